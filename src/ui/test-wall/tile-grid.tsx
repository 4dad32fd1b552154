"use client";
import { ArrowRight, Pin } from "lucide-react";
import type { Tile, Wall } from "@/core/wall/axis";
import type { Picture } from "../engine/questions";
import { PictureLayer } from "../viewport/picture-layer";
import { type Extent, type Looking, WHOLE } from "../viewport/place";
import { type Sight, Viewport } from "../viewport/viewport";

/** Names a tile among the others, for whoever keeps something of it. */
export const tileName = ({ row, column }: Pick<Tile, "row" | "column">) => `${row} ${column}`;

interface Props {
  wall: Wall;
  pictures: ReadonlyMap<string, Picture>;
  frame: Extent;
  stretch: number;
  looking: Looking;
  pinned: readonly string[];
  onLooking(looking: Looking): void;
  onSight(sight: Sight): void;
  /** The tile that is looked at: its neighbours are made first. */
  onNear(tile: Tile): void;
  onPin(tile: Tile): void;
  onBench(tile: Tile): void;
}

/** What a tile is called. */
export const tileLabel = ({ across, down }: Wall, { row, column }: Pick<Tile, "row" | "column">): string =>
  [down[row], across[column]].filter(Boolean).join(", ") || "As it is";

/** Width of a tile at least, CSS px. */
const MIN_TILE = 150;

/** All tiles with their labels; they are looked at together. */
export function TileGrid(props: Props) {
  const { wall, frame, stretch } = props;
  const hasRows = wall.down.some(Boolean);
  const columns = `${hasRows ? "6.5rem " : ""}repeat(${wall.across.length}, minmax(${MIN_TILE}px, 1fr))`;
  return (
    <div role="group" aria-label="Tiles" className="h-full overflow-auto p-2">
      <div className="grid gap-1.5" style={{ gridTemplateColumns: columns }}>
        {hasRows && <span />}
        {wall.across.map((label, i) => (
          <span key={i} className="truncate text-center" title={label}>
            {label}
          </span>
        ))}
        {wall.tiles.map((tile) => [
          hasRows && tile.column === 0 && (
            <span key={`row ${tile.row}`} className="self-center pr-1 text-right">
              {wall.down[tile.row]}
            </span>
          ),
          <TileView
            key={tileName(tile)}
            {...props}
            tile={tile}
            shape={(frame.width * stretch) / frame.height}
            isFirst={tile === wall.tiles[0]}
          />,
        ])}
      </div>
    </div>
  );
}

function TileView({
  tile,
  wall,
  pictures,
  frame,
  stretch,
  looking,
  pinned,
  shape,
  isFirst,
  ...on
}: Props & { tile: Tile; shape: number; isFirst: boolean }) {
  const name = tileName(tile);
  const label = tileLabel(wall, tile);
  const picture = pictures.get(name) ?? null;
  const isPinned = pinned.includes(name);
  return (
    <section
      aria-label={label}
      aria-busy={picture === null}
      className={`group relative overflow-hidden bg-[#101010] ${isPinned ? "halo" : ""}`}
      style={{ aspectRatio: shape }}
      onPointerEnter={() => on.onNear(tile)}
      onFocus={() => on.onNear(tile)}
    >
      <Viewport
        frame={frame}
        stretch={stretch}
        looking={looking}
        onLooking={on.onLooking}
        tools={[]}
        onHover={() => {}}
        onDoubleClick={() => on.onLooking(WHOLE)}
        onSight={isFirst ? on.onSight : undefined}
      >
        {(placing) =>
          // A canvas would go on showing what was drawn on it last.
          picture && (
            <PictureLayer picture={picture} name={`tile ${name}`} label={label} frame={frame} placing={placing} />
          )
        }
      </Viewport>
      <div className="absolute right-1 bottom-1 flex gap-1 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label={`Pin ${label}`}
          title="Pin it to compare it with another"
          aria-pressed={isPinned}
          onClick={() => on.onPin(tile)}
        >
          <Pin size={12} />
        </button>
        <button
          type="button"
          className="btn btn-xs"
          aria-label={`To the Bench: ${label}`}
          title="Put this look on the shot, on the Bench"
          onClick={() => on.onBench(tile)}
        >
          Bench <ArrowRight size={12} />
        </button>
      </div>
    </section>
  );
}
