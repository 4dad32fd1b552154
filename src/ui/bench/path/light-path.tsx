"use client";
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext } from "@dnd-kit/sortable";
import { useEffect, useRef, useState } from "react";
import { STATIONS } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import type { ElementAtFrame, LookAtFrame } from "@/core/look/at-frame";
import { addElement, moveElement, runsOf } from "@/core/look/edit";
import { timedPaths } from "@/core/look/timing";
import type { Look } from "@/core/look/look";
import { add, commit } from "../../shot/document";
import { PICTURE } from "../../view/inspect";
import { setView, useView } from "../../view/store";
import { Barrel } from "./barrel";
import { Glass, Scene, Screen } from "./glass";
import { GlassDrawer, NEW } from "./glass-drawer";
import { Piece } from "./piece";

const rank = (kind: string) => STATIONS.indexOf(definitionOf(kind).station);

/** Width of a piece with its name, and of one that has closed up, px. */
const OPEN_PIECE = 74;

/** The light path: glass on an axis, from the scene to the screen, in the order light meets it. */
export function LightPath({ look, at }: { look: Look; at: LookAtFrame }) {
  const { selected, marked } = useView("selected", "marked");
  const { elements } = at;
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const [folded, setFolded] = useState<boolean | null>(null);
  const [room, setRoom] = useState(0);
  const [dragged, setDragged] = useState<string | null>(null);
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    observer.observe(list.current!);
    return () => observer.disconnect();
  }, []);
  const runs = runsOf(look);
  const hasBarrel = runs.some(({ barrel }) => barrel);
  // The barrel is closed where there is no room for names, unless it was opened or closed by hand.
  const isFolded = hasBarrel && (folded ?? (room > 0 && elements.length * OPEN_PIECE > room));
  const atFrame = new Map(elements.map((element) => [element.id, element]));
  const shown = runs.flatMap(({ barrel, elements: own }) => {
    const pieces = own.flatMap(({ id }) => atFrame.get(id) ?? []);
    const isOpen = !barrel || !isFolded || pieces.some(({ id }) => id === selected);
    return isOpen ? pieces.map((piece) => [piece]) : [pieces];
  });
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    setDragged(null);
    const to = over ? elements.findIndex(({ id }) => id === over.id) : -1;
    const id = String(active.id);
    if (id.startsWith(NEW)) {
      if (!over) return;
      const selected = add((now) => addElement(now, id.slice(NEW.length), to < 0 ? elements.length : to));
      setView({ selected, inspect: PICTURE });
    } else if (over && id !== over.id) commit((now) => moveElement(now, id, to));
  };
  return (
    <DndContext
      id="light-path"
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setDragged(String(active.id))}
      onDragCancel={() => setDragged(null)}
      onDragEnd={onDragEnd}
    >
      <section aria-label="Light path" className="relative flex h-full items-center gap-2 bg-base-200 px-3">
        <div
          className="pointer-events-none absolute inset-x-3 top-[56px] h-px bg-linear-to-r from-[#6b6455] via-[#565656] to-[#565656]"
          aria-hidden
        />
        <div className="relative -mt-4 flex flex-col items-center bg-base-200 text-quiet">
          <Scene />
          <span>Scene</span>
        </div>
        <SortableContext items={elements.map(({ id }) => id)} strategy={horizontalListSortingStrategy}>
          <ol
            ref={list}
            className="-mb-1 flex h-full min-w-0 flex-1 items-center justify-center-safe overflow-x-auto overflow-y-hidden [scrollbar-width:thin]"
            aria-label="Elements in the order light meets them"
          >
            {shown.map((pieces, i) => {
              const [first] = pieces as [ElementAtFrame];
              const before = shown[i - 1]?.at(-1);
              const { station } = definitionOf(first.kind);
              const starts = !before || definitionOf(before.kind).station !== station;
              if (pieces.length > 1)
                return (
                  <Barrel
                    key={first.id}
                    elements={pieces}
                    station={starts ? station : null}
                    onOpen={() => setFolded(false)}
                  />
                );
              const index = elements.indexOf(first);
              const misplaced = elements.slice(0, index).some((other) => rank(other.kind) > rank(first.kind));
              return (
                <Piece
                  key={first.id}
                  element={first}
                  isSelected={first.id === selected}
                  isMarked={marked.includes(first.id)}
                  isTimed={timedPaths(look, first.id).length > 0}
                  misplaced={misplaced}
                  station={starts ? station : null}
                />
              );
            })}
            {!elements.length && (
              <li className="self-center bg-base-200 px-3 text-quiet">
                No glass in the way: light reaches the screen as it was shot. Add a piece from the glass drawer.
              </li>
            )}
          </ol>
        </SortableContext>
        <div className="relative -mt-4 flex flex-col items-center bg-base-200 text-quiet">
          <Screen />
          <span>Screen</span>
        </div>
        <div className="relative ml-1 flex flex-col gap-1 bg-base-200">
          <GlassDrawer />
          {hasBarrel && (
            <button
              type="button"
              className="btn btn-xs"
              aria-pressed={isFolded}
              title="What the lens profile brings, as one lens or piece by piece"
              onClick={() => setFolded(!isFolded)}
            >
              {isFolded ? "Open the lens" : "Close the lens"}
            </button>
          )}
        </div>
      </section>
      <DragOverlay dropAnimation={null}>
        {dragged?.startsWith(NEW) && <Glass kind={dragged.slice(NEW.length)} strength={1} on />}
      </DragOverlay>
    </DndContext>
  );
}
