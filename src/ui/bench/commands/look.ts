import { keepStill } from "../../looks/keep-still";
import type { Command } from "../../shell/command";
import { redo, undo } from "../../shot/document";
import { setView, viewNow } from "../../view/store";
import type { Place } from "./place";

const SHELVES = [
  { name: "Looks", key: "y", shelf: "looks" },
  { name: "Versions", key: "v", shelf: "versions" },
  { name: "Stills", key: "Shift+P", shelf: "stills" },
] as const;

/** The look as a whole, and what is kept of it. */
export const lookCommands = (context: Place): readonly Command[] => [
  { name: "Undo", group: "Look", keys: ["$mod+z"], inFields: true, run: undo },
  { name: "Redo", group: "Look", keys: ["$mod+Shift+Z"], inFields: true, run: redo },
  ...SHELVES.map(({ name, key, shelf }) => ({
    name,
    group: "Look",
    keys: [key],
    isOn: () => viewNow().shelf === shelf,
    run: () => setView({ shelf: viewNow().shelf === shelf ? null : shelf, preview: null }),
  })),
  { name: "Keep a still", group: "Look", keys: ["p"], run: () => void keepStill(context.shot.id) },
];
