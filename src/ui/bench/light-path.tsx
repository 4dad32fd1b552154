"use client";
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext, useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Plus, TriangleAlert } from "lucide-react";
import { ContextMenu, Popover } from "radix-ui";
import { Fragment, useEffect, useRef } from "react";
import { STATIONS, type Station } from "@/core/elements/definition";
import { definitionOf, ELEMENTS } from "@/core/elements/registry";
import type { ElementAtFrame, LookAtFrame } from "@/core/look/at-frame";
import { addElement, moveElement } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { Glass, Scene, Screen, STATION_LABELS } from "./glass";
import { PICTURE } from "./inspect";
import { allCommands, keysOf, useCommands } from "../shell/command";
import { useBench } from "./store";

const rank = (kind: string) => STATIONS.indexOf(definitionOf(kind).station);

/** What can be done with a piece, from the list of commands. */
function PieceMenu({ onOpen, children }: { onOpen(): void; children: React.ReactNode }) {
  const { offered } = useCommands();
  const commands = allCommands(offered).filter(({ ofPiece }) => ofPiece);
  return (
    <ContextMenu.Root onOpenChange={(open) => open && onOpen()}>
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-50 min-w-64 rounded-md border border-line bg-base-200 p-1 shadow-xl">
          {commands.map((command) => (
            <ContextMenu.Item
              key={command.name}
              disabled={command.isPossible?.() === false}
              onSelect={() => command.run()}
              className="flex cursor-pointer justify-between gap-6 rounded px-2 py-0.5 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-base-300"
            >
              {command.name}
              <span className="figures text-quiet">{keysOf(command)}</span>
            </ContextMenu.Item>
          ))}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

function Piece({
  element,
  isSelected,
  misplaced,
  station,
}: {
  element: ElementAtFrame;
  isSelected: boolean;
  misplaced: boolean;
  station: Station | null;
}) {
  const { set } = useBench();
  const { label } = definitionOf(element.kind);
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: element.id });
  const place = useRef<HTMLLIElement | null>(null);
  // A path too long for the window slides to what is selected.
  useEffect(() => {
    if (isSelected) place.current?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [isSelected]);
  return (
    <li
      ref={(node) => {
        place.current = node;
        setNodeRef(node);
      }}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`@container relative flex max-w-[116px] min-w-[50px] flex-1 flex-col items-center ${isDragging ? "z-10" : ""}`}
    >
      <span className="h-5 self-start overflow-visible leading-5 whitespace-nowrap text-quiet">
        {station ? STATION_LABELS[station] : ""}
      </span>
      <PieceMenu onOpen={() => !isSelected && set({ selected: element.id, inspect: PICTURE })}>
        <button
          type="button"
          {...listeners}
          aria-pressed={isSelected}
          aria-label={`${label}, ${element.on ? `strength ${element.strength}` : "off"}`}
          title={label}
          onClick={() => set({ selected: isSelected ? null : element.id, inspect: PICTURE })}
          className={`rounded-md px-1 ${isSelected ? "halo" : ""}`}
        >
          <Glass kind={element.kind} strength={element.state.strength * element.state.mix} on={element.on} />
        </button>
      </PieceMenu>
      <span
        className={`mt-0.5 w-full truncate text-center text-[0.92rem] leading-tight tracking-tight ${isSelected ? "text-halo @max-[74px]:w-max @max-[74px]:overflow-visible" : `opacity-0 @min-[74px]:opacity-100 ${element.on ? "" : "text-quiet"}`}`}
      >
        {label}
      </span>
      <span className="figures text-[0.85rem] leading-tight text-quiet">
        {element.on ? `${element.strength.toFixed(2)}×` : "off"}
      </span>
      {misplaced && (
        <span
          className="absolute top-0 right-0 text-warning"
          title={`Light meets ${label} after a later station; real light cannot. It is computed as drawn.`}
        >
          <TriangleAlert size={13} aria-label="Order that light could not take" />
        </span>
      )}
    </li>
  );
}

function GlassDrawer({ look }: { look: Look }) {
  const { change, set } = useBench();
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
                {ELEMENTS.filter((definition) => definition.station === station).map(({ kind, label, summary }) => (
                  <Popover.Close key={kind} asChild>
                    <button
                      type="button"
                      title={summary}
                      className="flex w-full break-inside-avoid items-center gap-1 rounded px-1 text-left whitespace-nowrap hover:bg-base-300"
                      onClick={() => {
                        const added = addElement(look, kind);
                        change(added.look);
                        set({ selected: added.id, inspect: PICTURE });
                      }}
                    >
                      <span className="-my-3 scale-[0.55]">
                        <Glass kind={kind} strength={1} on />
                      </span>
                      {label}
                    </button>
                  </Popover.Close>
                ))}
              </section>
            ))}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** The light path: glass on an axis, from the scene to the screen, in the order light meets it. */
export function LightPath({ look, at }: { look: Look; at: LookAtFrame }) {
  const { selected, change } = useBench();
  const { elements } = at;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  return (
    <section
      aria-label="Light path"
      className="relative flex h-[128px] shrink-0 items-center gap-2 border-t border-line bg-base-200 px-3"
    >
      <div
        className="pointer-events-none absolute inset-x-3 top-[56px] h-px bg-linear-to-r from-[#6b6455] via-[#565656] to-[#565656]"
        aria-hidden
      />
      <div className="relative -mt-4 flex flex-col items-center bg-base-200 text-quiet">
        <Scene />
        <span>Scene</span>
      </div>
      <DndContext
        id="light-path"
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (over && active.id !== over.id)
            change(
              moveElement(
                look,
                String(active.id),
                elements.findIndex(({ id }) => id === over.id),
              ),
            );
        }}
      >
        <SortableContext items={elements.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
          <ol
            className="-mb-1 flex h-full min-w-0 flex-1 items-center justify-center-safe overflow-x-auto overflow-y-hidden [scrollbar-width:thin]"
            aria-label="Elements in the order light meets them"
          >
            {elements.map((element, i) => {
              const before = elements[i - 1];
              const { station } = definitionOf(element.kind);
              const starts = !before || definitionOf(before.kind).station !== station;
              const misplaced = elements.slice(0, i).some((other) => rank(other.kind) > rank(element.kind));
              return (
                <Fragment key={element.id}>
                  <Piece
                    element={element}
                    isSelected={element.id === selected}
                    misplaced={misplaced}
                    station={starts ? station : null}
                  />
                </Fragment>
              );
            })}
            {!elements.length && (
              <li className="self-center bg-base-200 px-3 text-quiet">
                No glass in the way: light reaches the screen as it was shot. Add a piece from the glass drawer.
              </li>
            )}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="relative -mt-4 flex flex-col items-center bg-base-200 text-quiet">
        <Screen />
        <span>Screen</span>
      </div>
      <div className="ml-1 flex flex-col gap-1">
        <GlassDrawer look={look} />
      </div>
    </section>
  );
}
