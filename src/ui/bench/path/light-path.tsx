"use client";
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext, useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { Plus, TriangleAlert } from "lucide-react";
import { ContextMenu, Popover } from "radix-ui";
import { useEffect, useRef, useState } from "react";
import { STATIONS, type Station } from "@/core/elements/definition";
import { definitionOf, ELEMENTS } from "@/core/elements/registry";
import type { ElementAtFrame, LookAtFrame } from "@/core/look/at-frame";
import { addElement, moveElement, runsOf } from "@/core/look/edit";
import { timedPaths } from "@/core/look/timing";
import type { Look } from "@/core/look/look";
import { BarrelDrawing, Glass, Scene, Screen, STATION_LABELS } from "./glass";
import { PICTURE } from "../../view/inspect";
import { allCommands, keysOf, useCommands } from "../../shell/command";
import { add, commit } from "../../shot/document";
import { setView, useView } from "../../view/store";

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
  isMarked,
  isTimed,
  misplaced,
  station,
}: {
  element: ElementAtFrame;
  isSelected: boolean;
  /** Taken together with the selected one. */
  isMarked: boolean;
  isTimed: boolean;
  misplaced: boolean;
  station: Station | null;
}) {
  const { selected, marked } = useView("selected", "marked");
  const { label } = definitionOf(element.kind);
  const press = ({ ctrlKey, metaKey, shiftKey }: React.MouseEvent) => {
    const isMore = (ctrlKey || metaKey || shiftKey) && selected !== null && !isSelected;
    if (!isMore) return setView({ selected: isSelected ? null : element.id, inspect: PICTURE });
    setView({ marked: isMarked ? marked.filter((id) => id !== element.id) : [...marked, element.id] });
  };
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
      <span className="h-5 self-start overflow-visible leading-5 whitespace-nowrap text-quiet @max-[74px]:text-[0.82rem] @max-[74px]:tracking-tighter">
        {station ? STATION_LABELS[station] : ""}
      </span>
      <PieceMenu onOpen={() => !isSelected && setView({ selected: element.id, inspect: PICTURE })}>
        <button
          type="button"
          {...listeners}
          aria-pressed={isSelected}
          aria-label={`${label}, ${element.on ? `strength ${element.strength}` : "off"}${isMarked ? ", marked" : ""}`}
          title={label}
          onClick={press}
          className={`rounded-md px-1 ${isSelected ? "halo" : isMarked ? "outline outline-1 outline-halo/70" : ""}`}
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
        {isTimed && <span className="mr-1 inline-block size-1.5 rounded-full bg-halo align-middle" title="Timed" />}
        {element.on ? `${element.strength.toFixed(2)}×` : "off"}
      </span>
      {misplaced && (
        <span
          className="absolute top-0 right-0 text-warning @max-[74px]:top-4"
          title={`Light meets ${label} after a later station; real light cannot. It is computed as drawn.`}
        >
          <TriangleAlert size={13} aria-label="Order that light could not take" />
        </span>
      )}
    </li>
  );
}

/** Names what is dragged from the drawer. */
const NEW = "new ";

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

function GlassDrawer() {
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

/** Width of a piece with its name, and of one that has closed up, px. */
const OPEN_PIECE = 74;

/** What a lens profile brings, drawn as one lens; a press opens it into its pieces. */
function Barrel({
  elements,
  station,
  onOpen,
}: {
  elements: ElementAtFrame[];
  station: Station | null;
  onOpen(): void;
}) {
  const on = elements.filter((element) => element.on);
  const names = elements.map(({ kind }) => definitionOf(kind).label).join(", ");
  return (
    <li className="flex max-w-[150px] min-w-[104px] flex-1 flex-col items-center">
      <span className="h-5 self-start leading-5 whitespace-nowrap text-quiet">
        {station ? STATION_LABELS[station] : ""}
      </span>
      <button
        type="button"
        aria-expanded={false}
        aria-label={`Barrel of the lens: ${elements.length} pieces, ${on.length} on. Open it`}
        title={names}
        className="rounded-md px-1"
        onClick={onOpen}
      >
        <BarrelDrawing count={elements.length} on={on.length > 0} />
      </button>
      <span className="mt-0.5 w-full truncate text-center text-[0.92rem] leading-tight tracking-tight">The lens</span>
      <span className="figures text-[0.85rem] leading-tight text-quiet">
        {on.length} of {elements.length} on
      </span>
    </li>
  );
}

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
              const place = elements.indexOf(first);
              const misplaced = elements.slice(0, place).some((other) => rank(other.kind) > rank(first.kind));
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
