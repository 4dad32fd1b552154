import type { Command } from "../../shell/command";
import { toggled, type Way } from "../../view/compare";
import { setView, viewNow } from "../../view/store";

const compareBy = (way: Way) => setView({ compare: toggled(viewNow().compare, way) });

/** Comparing, held down or on and off. */
export const COMPARE_COMMANDS: readonly Command[] = [
  {
    name: "Without the selected element, held",
    group: "Compare",
    keys: ["w"],
    run: () => setView({ held: { kind: "element" } }),
    release: () => setView({ held: null }),
  },
  {
    name: "Without the whole path, held",
    group: "Compare",
    keys: ["Shift+W"],
    run: () => setView({ held: { kind: "path" } }),
    release: () => setView({ held: null }),
  },
  {
    name: "What it is compared with, held",
    group: "Compare",
    keys: ["r"],
    run: () => setView({ held: viewNow().compare.reference }),
    release: () => setView({ held: null }),
  },
  {
    name: "Compare as it was last, on and off",
    group: "Compare",
    keys: ["e"],
    isOn: () => viewNow().compare.way !== null,
    run: () => compareBy(viewNow().compare.last),
  },
  {
    name: "Wipe",
    group: "Compare",
    isOn: () => viewNow().compare.way === "wipe",
    run: () => compareBy("wipe"),
  },
  {
    name: "Side by side",
    group: "Compare",
    keys: ["Shift+E"],
    isOn: () => viewNow().compare.way === "side",
    run: () => compareBy("side"),
  },
  {
    name: "Difference about mid-grey",
    group: "Compare",
    keys: ["Shift+D"],
    isOn: () => viewNow().compare.way === "difference",
    run: () => compareBy("difference"),
  },
];
