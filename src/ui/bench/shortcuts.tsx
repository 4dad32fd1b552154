"use client";
import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { countOf, frameAt, indexOfFrame } from "@/core/frame/ranges";
import { elementsOf, moveElement, removeElement, switchElement } from "@/core/look/edit";
import { isKeyed } from "@/core/look/look";
import type { ShotDetail } from "../shared/api";
import { useBench } from "./store";

const KEYS: [string, string][] = [
  ["W, held", "the picture without the selected element"],
  ["Shift W, held", "the picture without the whole path"],
  ["E", "wipe against the picture without the selected element, or without the path"],
  ["M", "the matte of the highlight key"],
  ["F", "fit the picture to the room"],
  ["1  2  4", "1:1, 2:1, 4:1"],
  ["Tab, Shift Tab", "to every control in turn"],
  ["J  L", "select the element before, after"],
  ["Alt ←  Alt →", "move the selected element along the path"],
  ["X", "switch the selected element off and on"],
  ["Delete", "remove the selected element"],
  ["G", "open the glass drawer"],
  ["K", "open the versions"],
  ["←  →", "frame before, after"],
  ["P", "play and stop"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["Escape", "select nothing"],
  ["?", "this list"],
];

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    target instanceof HTMLTextAreaElement ||
    target instanceof HTMLSelectElement ||
    (target instanceof HTMLInputElement && target.type !== "checkbox" && target.type !== "range"));

/** The bench's keyboard, and the list of it. */
export function Shortcuts({ shot }: { shot: ShotDetail }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const step = (by: number) => {
      const { frame, set } = useBench.getState();
      const { frames } = shot;
      const count = countOf(frames);
      set({ frame: frameAt(frames, (indexOfFrame(frames, frame) + by + count) % count)!, playing: false });
    };
    const down = (event: KeyboardEvent) => {
      const { look, selected, wipe, matte, zoom, playing, set, change, undo, redo } = useBench.getState();
      if (!look) return;
      const control = event.ctrlKey || event.metaKey;
      if (control && event.key.toLowerCase() === "z") {
        event.preventDefault();
        return event.shiftKey ? redo() : undo();
      }
      if (typing(event.target) || control || document.querySelector("[role=dialog]")) return;
      const elements = elementsOf(look);
      const at = elements.findIndex(({ id }) => id === selected);
      const element = elements[at];
      const onTrack = event.target instanceof HTMLInputElement && event.target.type === "range";
      const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      const actions: Record<string, (() => void) | undefined> = {
        w: () => set({ held: event.shiftKey || !element ? "path" : "element" }),
        e: () => set({ wipe: wipe ? null : element ? "element" : "path" }),
        m: () => element && isKeyed(element) && set({ matte: !matte }),
        f: () => set({ zoom: zoom === "fit" ? 1 : "fit" }),
        1: () => set({ zoom: 1 }),
        2: () => set({ zoom: 2 }),
        4: () => set({ zoom: 4 }),
        j: () =>
          elements.length &&
          set({
            selected: elements[(at < 0 ? elements.length : at) - 1]?.id ?? elements.at(-1)!.id,
            matte: false,
            area: null,
          }),
        l: () =>
          elements.length && set({ selected: elements[(at + 1) % elements.length]!.id, matte: false, area: null }),
        x: () => element && change(switchElement(look, element.id, !element.on)),
        g: () => document.querySelector<HTMLButtonElement>("[data-drawer]")?.click(),
        k: () => document.querySelector<HTMLButtonElement>("[data-versions]")?.click(),
        p: () => set({ playing: !playing }),
        "?": () => setOpen(true),
        Escape: () => set({ selected: null, matte: false, area: null }),
        Delete: () => {
          if (!element) return;
          change(removeElement(look, element.id));
          set({ selected: null, matte: false, area: null });
        },
        ArrowLeft:
          onTrack && !event.altKey
            ? undefined
            : () => (event.altKey ? element && change(moveElement(look, element.id, at - 1)) : step(-1)),
        ArrowRight:
          onTrack && !event.altKey
            ? undefined
            : () => (event.altKey ? element && change(moveElement(look, element.id, at + 1)) : step(1)),
      };
      const action = actions[key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() === "w") useBench.getState().set({ held: null });
    };
    const away = () => useBench.getState().set({ held: null });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", away);
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
          className="fixed top-1/2 left-1/2 z-50 w-[520px] -translate-x-1/2 -translate-y-1/2 rounded-md border border-line bg-base-200 p-4"
          aria-describedby={undefined}
        >
          <Dialog.Title className="mb-2 text-base font-semibold">Keyboard</Dialog.Title>
          <dl className="grid grid-cols-[11rem_1fr] gap-y-1">
            {KEYS.map(([key, what]) => (
              <div key={key} className="contents">
                <dt className="figures">{key}</dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="btn btn-xs mt-3">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
