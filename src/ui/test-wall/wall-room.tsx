"use client";
import { Download, X } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import type { Look } from "@/core/look/look";
import type { Tile, Wall } from "@/core/wall/axis";
import type { ShotDetail } from "../../contract/shots";
import { enoughFor } from "../pictures/scheduler";
import { useSource } from "../pictures/use-source";
import { shotTitle } from "../shared/production";
import { type Looking, WHOLE } from "../viewport/place";
import type { Sight } from "../viewport/viewport";
import { saveSheet } from "./export-sheet";
import { type PinnedTile, PinnedPair } from "./pinned-pair";
import { TileGrid, tileLabel, tileName } from "./tile-grid";
import { useTilePictures } from "./tile-pictures";
import { useFrames } from "./use-frames";

interface Props {
  shot: ShotDetail;
  look: Look;
  frame: number;
  wall: Wall;
  /** What the sides are about; empty where nothing changes along one. */
  titles: readonly [across: string, down: string];
  onBench(look: Look): void;
}

const ZOOMS = [1, 2, 4] as const;

/** The tiles of a wall: made, looked at together, two of them pinned, and put on a page. */
export function WallRoom({ shot, look, frame, wall, titles, onBench }: Props) {
  const source = useSource(shot, look);
  const { width, height } = shot.footage;
  const [looking, setLooking] = useState<Looking>(WHOLE);
  const [sight, setSight] = useState<Sight | null>(null);
  const frames = useFrames();
  const near = useRef<Pick<Tile, "row" | "column">>({ row: 0, column: 0 });
  const [pinned, setPinned] = useState<readonly string[]>([]);
  const divide = sight ? enoughFor(sight.scale * width, width) : null;
  const rows = sight && divide === 1 && sight.rows ? sight.rows : undefined;
  const [firstRow, endRow] = rows ?? [null, null];
  const wanted = useMemo(
    () =>
      divide === null
        ? []
        : wall.tiles.map((tile) => ({
            ...{ row: tile.row, column: tile.column, name: tileName(tile) },
            order: {
              ...{ ...source, look: tile.look, frame, divide, output: { kind: "display" as const } },
              ...(firstRow === null ? {} : { rows: [firstRow, endRow!] as const }),
            },
          })),
    // The rows, not the list they come in; the source by what it holds.
    [wall, divide, firstRow, endRow, frame, JSON.stringify(source)], // eslint-disable-line react-hooks/exhaustive-deps
  );
  const { pictures, waiting: missing, problem } = useTilePictures(wanted, near);
  // How large they are wanted is known once they are laid out.
  const waiting = divide === null ? wall.tiles.length : missing;
  const stretch = shot.desqueezed ? 1 : shot.squeeze;
  const tileOf = (name: string): PinnedTile | null => {
    const tile = wall.tiles.find((one) => tileName(one) === name);
    return tile ? { label: tileLabel(wall, tile), look: tile.look } : null;
  };
  const pair = pinned.map(tileOf).filter((tile) => tile !== null);
  const pin = (tile: Tile) => {
    const name = tileName(tile);
    // The older one of two gives way.
    setPinned((before) => (before.includes(name) ? before.filter((one) => one !== name) : [...before.slice(-1), name]));
  };
  const all = wall.tiles.map((tile) => pictures.get(tileName(tile)));
  const isWhole = looking.zoom === "fit" && !waiting && all.every((picture) => picture !== undefined);
  const fileName = `${shot.id} frame ${frame} test wall`;
  const saveFrames = () => {
    const output = { kind: "display" as const };
    const orders = wall.tiles.map((tile) => ({ ...source, look: tile.look, frame, divide: 1, output }));
    frames.save(wall, orders, fileName);
  };
  const save = (kind: "png" | "pdf") => {
    const [across, down] = titles;
    const words = {
      title: look.name || shotTitle(shot),
      subtitle: `${shotTitle(shot)}, frame ${frame}, ${width} × ${height}`,
      ...{ across: wall.across, down: wall.down, acrossTitle: across, downTitle: down },
    };
    const [first] = all;
    const tile = { width: Math.round(first!.width * stretch), height: first!.height };
    saveSheet(words, all as NonNullable<(typeof all)[number]>[], tile, kind, fileName).catch((error: Error) =>
      toast.error(error.message),
    );
  };
  if (pair.length === 2)
    return (
      <div className="min-w-0 flex-1">
        <PinnedPair
          pair={[pair[0]!, pair[1]!]}
          wanted={{ ...source, frame, width, height }}
          frame={shot.footage}
          stretch={stretch}
          onClose={() => setPinned([])}
        />
      </div>
    );
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <div role="toolbar" aria-label="Wall" className="flex h-8 shrink-0 items-center gap-2 border-b border-line px-2">
        <div className="join">
          <button
            type="button"
            className={`btn btn-xs join-item ${looking.zoom === "fit" ? "halo" : ""}`}
            aria-pressed={looking.zoom === "fit"}
            onClick={() => setLooking(WHOLE)}
          >
            Whole
          </button>
          {ZOOMS.map((zoom) => (
            <button
              key={zoom}
              type="button"
              className={`btn btn-xs join-item ${looking.zoom === zoom ? "halo" : ""}`}
              aria-pressed={looking.zoom === zoom}
              onClick={() => setLooking({ ...looking, zoom })}
            >
              {zoom}:1
            </button>
          ))}
        </div>
        <span role="status" className="figures text-quiet">
          {problem ??
            (waiting ? `${wall.tiles.length - waiting} of ${wall.tiles.length} tiles` : `${wall.tiles.length} tiles`)}
        </span>
        {pair.length === 1 && (
          <span className="truncate text-quiet">Pinned: {pair[0]!.label}; pin another to compare</span>
        )}
        <span className="ml-auto" />
        {(["png", "pdf"] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            className="btn btn-xs"
            disabled={!isWhole}
            title={isWhole ? "Save the wall as a labelled page" : "When all tiles are there, seen whole"}
            onClick={() => save(kind)}
          >
            <Download size={12} /> {kind.toUpperCase()}
          </button>
        ))}
        {frames.progress === null ? (
          <button
            type="button"
            className="btn btn-xs w-36"
            title="Save every tile as a frame of its own at full size, PNG, all in one zip"
            onClick={saveFrames}
          >
            <Download size={12} /> Frames
          </button>
        ) : (
          <button type="button" className="btn btn-xs figures w-36" title="Make no more frames" onClick={frames.cancel}>
            <X size={12} /> {frames.progress.made} of {frames.progress.of} frames
          </button>
        )}
      </div>
      <div className="min-h-0 flex-1">
        <TileGrid
          {...{ wall, pictures, stretch, looking, pinned }}
          frame={shot.footage}
          onLooking={setLooking}
          onSight={setSight}
          onNear={({ row, column }) => void (near.current = { row, column })}
          onPin={pin}
          onBench={(tile) => onBench(tile.look)}
        />
      </div>
    </div>
  );
}
