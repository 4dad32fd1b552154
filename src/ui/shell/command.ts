import { matchKeyBindingPress, parseKeybinding } from "tinykeys";
import { create } from "zustand";

/** Something that can be done: by its keys where it has some, and by its name in the list, the finder and menus. */
export interface Command {
  name: string;
  /** What it belongs to; commands of a group stand together. */
  group: string;
  /** As tinykeys writes them; the first is the one that is told. */
  keys?: readonly string[];
  run(): void;
  /** For what holds as long as its key is down. */
  release?(): void;
  /** Whether it can be done now; left out, it always can. */
  isPossible?(): boolean;
  /** Whether what it switches is on. */
  isOn?(): boolean;
  /** Where a field takes its keys, it leaves them to the field. */
  leavesTracks?: true;
  /** Its keys hold while something is typed, too. */
  inFields?: true;
  /** It is offered where a piece of the light path is pressed with the second button. */
  ofPiece?: true;
}

interface Commands {
  /** By who offers them: the shell, and the view that is open. */
  offered: ReadonlyMap<string, readonly Command[]>;
  offer(by: string, commands: readonly Command[] | null): void;
  list: "keys" | "finder" | null;
  show(list: "keys" | "finder" | null): void;
}

export const useCommands = create<Commands>((set) => ({
  offered: new Map(),
  offer: (by, commands) =>
    set(({ offered }) => {
      const next = new Map(offered);
      if (commands) next.set(by, commands);
      else next.delete(by);
      return { offered: next };
    }),
  list: null,
  show: (list) => set({ list }),
}));

export const allCommands = (offered: Commands["offered"]): Command[] => [...offered.values()].flat();

const WORDS: Record<string, string> = { $mod: "Ctrl", ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓" };

/** A command's keys as they are told: Ctrl Shift Z; empty where it has none. */
export const keysOf = ({ keys }: Pick<Command, "keys">): string =>
  (keys?.[0] ?? "")
    .split(/\+(?=.)/)
    .map((key) => WORDS[key] ?? (key.length === 1 ? key.toUpperCase() : key))
    .join(" ");

/** The command whose keys are pressed. */
export const commandFor = (event: KeyboardEvent, commands: readonly Command[]): Command | undefined =>
  commands.find(({ keys = [] }) =>
    keys.flatMap((key) => parseKeybinding(key)).some((press) => matchKeyBindingPress(event, press)),
  );

const isTrack = (target: EventTarget | null) => target instanceof HTMLInputElement && target.type === "range";
const isPressed = (target: EventTarget | null) =>
  target instanceof HTMLButtonElement || (target instanceof HTMLInputElement && target.type === "checkbox");
const isTyped = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement ||
    (target instanceof HTMLInputElement && !isPressed(target) && !isTrack(target)));

/** Whether what has the focus wants a key for itself. */
export function isTaken({ target, code }: KeyboardEvent, command: Command): boolean {
  if (isTrack(target) && command.leavesTracks) return true;
  if (isPressed(target) && code === "Space") return true;
  return isTyped(target) && !command.inFields;
}
