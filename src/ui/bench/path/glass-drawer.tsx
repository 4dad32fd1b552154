"use client";
import { useDraggable } from "@dnd-kit/core";
import { Plus } from "lucide-react";
import { Popover } from "radix-ui";
import { STATION_LABELS, STATIONS } from "@/core/elements/definition";
import { definitionOf, ELEMENTS } from "@/core/elements/registry";
import { addElement } from "@/core/look/edit";
import { add } from "../../shot/document";
import { PICTURE } from "../../view/inspect";
import { setView } from "../../view/store";
import { Glass } from "./glass";

/** Names what is dragged from the drawer. */
export const NEW = "new ";

/** A piece of the drawer: a press adds it where its station is, a drag puts it where it is let go of. */
function DrawerPiece({ kind }: { kind: string }) {
  const { label, summary } = definitionOf(kind);
  const { setNodeRef, listeners } = useDraggable({ id: `${NEW}${kind}` });
  return (
    <Popover.Close asChild>
      <button
        ref={setNodeRef}
        type="button"
        {...listeners}
        title={summary}
        className="flex w-full touch-none break-inside-avoid items-center gap-1 rounded px-1 text-left whitespace-nowrap hover:bg-base-300"
        onClick={() => {
          setView({ selected: add((now) => addElement(now, kind)), inspect: PICTURE });
        }}
      >
        <span className="-my-3 scale-[0.55]">
          <Glass kind={kind} strength={1} on />
        </span>
        {label}
      </button>
    </Popover.Close>
  );
}

/** Every kind of element, by its station. */
export function GlassDrawer() {
  return (
    <Popover.Root>
      <Popover.Trigger className="btn btn-sm" aria-label="Glass drawer: add an element" data-drawer>
        <Plus size={14} /> Glass drawer
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={8}
          className="z-40 w-[700px] rounded-md border border-line bg-base-200 p-3 shadow-xl"
          aria-label="Glass drawer"
        >
          <div className="grid grid-cols-5 gap-3">
            {STATIONS.map((station) => (
              <section key={station} className={station === "lens" ? "col-span-2 columns-2 gap-3" : ""}>
                <h3 className="mb-1 text-quiet [column-span:all]">{STATION_LABELS[station]}</h3>
                {ELEMENTS.filter((definition) => definition.station === station).map(({ kind }) => (
                  <DrawerPiece key={kind} kind={kind} />
                ))}
              </section>
            ))}
          </div>
          <p className="mt-2 text-quiet">
            Press a piece to put it where light meets it, or drag it to its place on the path.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
