"use client";
import { useSortable } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import { TriangleAlert } from "lucide-react";
import { ContextMenu } from "radix-ui";
import { useEffect, useRef } from "react";
import type { Station } from "@/core/elements/definition";
import { STATION_LABELS } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import type { ElementAtFrame } from "@/core/look/at-frame";
import { allCommands, keysOf, useCommands } from "../../shell/command";
import { PICTURE } from "../../view/inspect";
import { setView, useView } from "../../view/store";
import { Glass } from "./glass";

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

/** An element on the light path: selected by a press, marked with others, dragged along the path. */
export function Piece({
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
  const item = useRef<HTMLLIElement | null>(null);
  // A path too long for the window slides to what is selected.
  useEffect(() => {
    if (isSelected) item.current?.scrollIntoView({ inline: "nearest", block: "nearest" });
  }, [isSelected]);
  return (
    <li
      ref={(node) => {
        item.current = node;
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
