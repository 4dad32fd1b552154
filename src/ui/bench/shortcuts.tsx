"use client";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { matchKeyBindingPress, parseKeybinding } from "tinykeys";
import { type Command, COMMANDS, keysOf, type Opens, type Place } from "./commands";
import { useBench } from "./store";
import type { ShotDetail } from "../../contract/shots";

/** Every command with its keys, ready to be held against what is pressed. */
const PRESSES = COMMANDS.map((command) => ({
  command,
  presses: command.keys.flatMap((key) => parseKeybinding(key)),
}));
const commandFor = (event: KeyboardEvent): Command | undefined =>
  PRESSES.find(({ presses }) => presses.some((press) => matchKeyBindingPress(event, press)))?.command;

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
function isTaken({ target, code, ctrlKey, metaKey }: KeyboardEvent, command: Command): boolean {
  if (isTrack(target) && command.leavesTracks) return true;
  if (isPressed(target) && code === "Space") return true;
  return isTyped(target) && !(ctrlKey || metaKey);
}

const KEY_WIDTH = "8.5rem";
const GROUPS = [...new Set(COMMANDS.map(({ group }) => group))];

/** The bench's keyboard, and the list of it. */
export function Shortcuts({ shot }: { shot: ShotDetail }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const place: Place = {
      shot,
      open: (what: Opens) =>
        what === "keyboard" ? setOpen(true) : document.querySelector<HTMLButtonElement>(`[data-${what}]`)?.click(),
    };
    let holding: Command | null = null;
    const letGo = () => {
      holding?.release?.();
      holding = null;
    };
    const down = (event: KeyboardEvent) => {
      const command = commandFor(event);
      if (!command || !useBench.getState().look || isTaken(event, command)) return;
      if (document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      if (command.release) holding = command;
      command.run(place);
    };
    // Any key that is let go ends what is held: of a key with Shift, Shift may go first.
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", letGo);
    window.addEventListener("blur", letGo);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", letGo);
      window.removeEventListener("blur", letGo);
    };
  }, [shot]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="btn btn-xs btn-square" aria-label="Keyboard">
        ?
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />
        <Dialog.Content
          className="fixed top-1/2 left-1/2 z-50 w-[840px] -translate-x-1/2 -translate-y-1/2 rounded-md border border-line bg-base-200 p-4"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-2 text-base font-semibold">Keyboard</Dialog.Title>
          <div className="columns-2 gap-8">
            {GROUPS.map((group) => (
              <section key={group} className="mb-3 break-inside-avoid">
                <h3 className="mb-1 border-b border-line font-semibold text-quiet">{group}</h3>
                <dl className="grid gap-y-0.5" style={{ gridTemplateColumns: `${KEY_WIDTH} 1fr` }}>
                  {COMMANDS.filter((command) => command.group === group).map((command) => (
                    <div key={command.name} className="contents">
                      <dt className="figures">{keysOf(command)}</dt>
                      <dd>{command.name}</dd>
                    </div>
                  ))}
                </dl>
              </section>
            ))}
          </div>
          <p className="text-quiet">
            Tab and Shift Tab go to every control in turn; arrow keys move what has the focus.
          </p>
          <Dialog.Close className="btn btn-xs mt-3">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
