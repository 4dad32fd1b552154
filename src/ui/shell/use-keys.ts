import { useEffect } from "react";
import { allCommands, type Command, commandFor, isTaken, useCommands } from "./command";

/** Hears the keys of whatever commands are offered, as long as the shell stands. */
export function useKeys(): void {
  useEffect(() => {
    let holding: Command | null = null;
    const letGo = () => {
      holding?.release?.();
      holding = null;
    };
    const down = (event: KeyboardEvent) => {
      const command = commandFor(event, allCommands(useCommands.getState().offered));
      if (!command || isTaken(event, command) || document.querySelector("[role=dialog]")) return;
      if (command.isPossible?.() === false) return;
      event.preventDefault();
      if (command.release) holding = command;
      command.run();
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
  }, []);
}

/** Offers commands as long as what they belong to is open. They must be the same from render to render. */
export function useOffered(by: string, commands: readonly Command[]): void {
  const { offer } = useCommands();
  useEffect(() => {
    offer(by, commands);
    return () => offer(by, null);
  }, [by, commands, offer]);
}
