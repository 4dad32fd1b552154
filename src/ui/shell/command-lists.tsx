"use client";
import { Command as Finding } from "cmdk";
import { Dialog } from "radix-ui";
import { useRef } from "react";
import { allCommands, type Command, keysOf, useCommands } from "./command";

const KEY_WIDTH = "8.5rem";

const groupsOf = (commands: readonly Command[]) => [...new Set(commands.map(({ group }) => group))];
const Overlay = () => <Dialog.Overlay className="fixed inset-0 z-40 bg-black/50" />;
const SHEET = "fixed left-1/2 z-50 -translate-x-1/2 rounded-md border border-line bg-base-200 p-4";

/** Every command that has a key, with it. */
export function KeyList() {
  const { offered, list, show } = useCommands();
  const keyed = allCommands(offered).filter(({ keys }) => keys);
  return (
    <Dialog.Root open={list === "keys"} onOpenChange={(open) => show(open ? "keys" : null)}>
      <Dialog.Portal>
        <Overlay />
        <Dialog.Content
          className={`${SHEET} top-1/2 max-h-[92dvh] w-[880px] -translate-y-1/2 overflow-y-auto`}
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-2 text-base font-semibold">Keyboard</Dialog.Title>
          <div className="columns-2 gap-8">
            {groupsOf(keyed).map((group) => (
              <section key={group} className="mb-3 break-inside-avoid">
                <h3 className="mb-1 border-b border-line font-semibold text-quiet">{group}</h3>
                <dl className="grid gap-y-0.5" style={{ gridTemplateColumns: `${KEY_WIDTH} 1fr` }}>
                  {keyed
                    .filter((command) => command.group === group)
                    .map((command) => (
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

/** A command is found by part of its name, and done. */
export function Finder() {
  const { offered, list, show } = useCommands();
  const chosen = useRef<Command | null>(null);
  const commands = allCommands(offered).filter(({ isPossible, release }) => !release && isPossible?.() !== false);
  return (
    <Dialog.Root open={list === "finder"} onOpenChange={(open) => show(open ? "finder" : null)}>
      <Dialog.Portal>
        <Overlay />
        <Dialog.Content
          className={`${SHEET} top-24 w-[520px]`}
          aria-describedby={undefined}
          onCloseAutoFocus={() => {
            // It is done when the finder is gone and what had the focus has it again.
            chosen.current?.run();
            chosen.current = null;
          }}
        >
          <Dialog.Title className="sr-only">Find a command</Dialog.Title>
          <Finding label="Find a command" loop>
            <Finding.Input
              placeholder="Find a command"
              className="mb-2 w-full rounded bg-base-300 px-2 py-1.5"
              aria-label="Find a command"
            />
            <Finding.List className="max-h-[50dvh] overflow-y-auto">
              <Finding.Empty className="px-2 py-1 text-quiet">There is no such command.</Finding.Empty>
              {groupsOf(commands).map((group) => (
                <Finding.Group
                  key={group}
                  heading={group}
                  className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-quiet"
                >
                  {commands
                    .filter((command) => command.group === group)
                    .map((command) => (
                      <Finding.Item
                        key={command.name}
                        value={`${group} ${command.name}`}
                        onSelect={() => {
                          chosen.current = command;
                          show(null);
                        }}
                        className="flex cursor-pointer justify-between rounded px-2 py-0.5 data-[selected=true]:bg-base-300"
                      >
                        <span>
                          {command.name}
                          {command.isOn?.() && <span className="text-quiet"> (on)</span>}
                        </span>
                        <span className="figures text-quiet">{keysOf(command)}</span>
                      </Finding.Item>
                    ))}
                </Finding.Group>
              ))}
            </Finding.List>
          </Finding>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
