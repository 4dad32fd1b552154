"use client";
import { X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { setView, useView } from "../view/store";
import type { Wanted } from "../pictures/scheduler";
import { type Shown, usePicture } from "../pictures/use-picture";
import { wipeClip } from "../compare/wipe";
import { PictureLayer } from "../viewport/picture-layer";
import { type Extent, viewTransformOf, rowsInSight, type Shown as ShownFrame } from "../viewport/place";
import { CORNER_ZOOMS, dragged, lookingOf, type Pane, PANES } from "./corners";
import { useDragOver } from "../shared/drag";

/** Pictures of the rows at the top, in the middle and at the bottom: panes beside one another share them. */
type Bands = Readonly<Record<-1 | 0 | 1, Shown>>;

/** Panes stand in three columns: the corners in two rows at the sides, the centre between them. */
const COLUMNS = 3;
const ROWS = 2;
const ROOMS: Record<0 | 1, (room: Extent) => Extent> = {
  0: ({ width, height }) => ({ width: width / COLUMNS, height }),
  1: ({ width, height }) => ({ width: width / COLUMNS, height: height / ROWS }),
};
const roomOf = ({ x }: Pane, whole: Extent): Extent => ROOMS[x === 0 ? 0 : 1](whole);

/** One row of panes asks for the rows it shows. */
function useBands(
  priority: "picture" | "compared",
  wanted: Wanted | null,
  rowsOf: (side: -1 | 0 | 1) => readonly [number, number] | null,
): Bands {
  const band = (side: -1 | 0 | 1) => wanted && { ...wanted, rows: rowsOf(side) };
  return {
    [-1]: usePicture(priority, band(-1)),
    0: usePicture(priority, band(0)),
    1: usePicture(priority, band(1)),
  } as Bands;
}

interface Props {
  /** The picture, and what it is compared with where that is seen. */
  wanted: Wanted | null;
  compared: Wanted | null;
  frame: Extent;
  /** How much wider squeezed frames are shown. */
  stretch: number;
}

/** The centre and the four corners together, enlarged: compared and inspected as the whole picture is. */
export function CornersView({ wanted, compared, frame, stretch }: Props) {
  const { corners, compare, held } = useView("corners", "compare", "held");
  const node = useRef<HTMLDivElement>(null);
  const [whole, setWhole] = useState<Extent>({ width: 0, height: 0 });
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) =>
      setWhole({ width: entry!.contentRect.width, height: entry!.contentRect.height }),
    );
    observer.observe(node.current!);
    return () => observer.disconnect();
  }, []);
  const ratio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  const isBeside = compared !== null && compare.way === "side" && !held;
  const shown: ShownFrame = { ...frame, stretch, ratio };
  /** A pane that shows two pictures beside one another gives each half of its room. */
  const own = (pane: Pane): Extent => {
    const room = roomOf(pane, whole);
    return isBeside ? { ...room, width: room.width / 2 } : room;
  };
  const placingIn = (pane: Pane) => viewTransformOf(lookingOf(pane, corners, own(pane), shown), own(pane), shown);
  const rowsOf = (side: -1 | 0 | 1) => {
    const pane = PANES.find(({ y }) => y === side)!;
    return whole.height ? rowsInSight(placingIn(pane), own(pane), frame) : null;
  };
  const pictures = useBands("picture", whole.height ? wanted : null, rowsOf);
  const others = useBands("compared", whole.height ? compared : null, rowsOf);
  const isBusy = [pictures, ...(compared ? [others] : [])].some((bands) =>
    ([-1, 0, 1] as const).some((y) => bands[y].busy),
  );
  const problem = pictures[0].problem;
  return (
    <section aria-label="Picture" aria-busy={isBusy} className="relative flex h-full flex-col bg-[#101010]">
      <div role="group" aria-label="Corners" className="flex h-7 shrink-0 items-center gap-2 px-2 text-quiet">
        <span>Centre and corners</span>
        <div className="join">
          {CORNER_ZOOMS.map((zoom) => (
            <button
              key={zoom}
              type="button"
              className={`btn btn-xs join-item ${corners.zoom === zoom ? "btn-primary" : ""}`}
              aria-pressed={corners.zoom === zoom}
              onClick={() => setView({ corners: { ...corners, zoom } })}
            >
              {zoom}:1
            </button>
          ))}
        </div>
        <button
          type="button"
          className="btn btn-xs"
          disabled={!corners.shift.x && !corners.shift.y}
          onClick={() => setView({ corners: { ...corners, shift: { x: 0, y: 0 } } })}
        >
          Into the corners
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square ml-auto"
          aria-label="Close the corners"
          onClick={() => setView({ corners: { ...corners, open: false } })}
        >
          <X size={13} />
        </button>
      </div>
      <div ref={node} className="grid min-h-0 flex-1 grid-cols-3 grid-rows-2">
        {PANES.map((pane) => (
          <PaneView
            key={pane.name}
            pane={pane}
            room={own(pane)}
            frame={shown}
            picture={pictures[pane.y]}
            other={compared ? others[pane.y] : null}
            isBeside={isBeside}
          />
        ))}
      </div>
      {problem && (
        <p
          role="alert"
          className="absolute inset-x-0 top-1/2 mx-auto w-fit rounded border border-line bg-base-200 px-4 py-2"
        >
          {problem}
        </p>
      )}
    </section>
  );
}

function PaneView({
  pane,
  room,
  frame,
  picture,
  other,
  isBeside,
}: {
  pane: Pane;
  room: Extent;
  frame: ShownFrame;
  picture: Shown;
  other: Shown | null;
  isBeside: boolean;
}) {
  const { corners, compare, held } = useView("corners", "compare", "held");
  const node = useRef<HTMLDivElement>(null);
  const placing = viewTransformOf(lookingOf(pane, corners, room, frame), room, frame);
  const bind = useDragOver(node, {
    press: (_: void, at) => ({ at, corners }),
    move: (from, at) => {
      const by = { x: at.x - from.at.x, y: at.y - from.at.y };
      setView({ corners: dragged(pane, from.corners, by, room, frame) });
    },
  });
  const layer = ({ picture: pixels, under }: Shown, name: string, label: string) => (
    <PictureLayer picture={pixels} under={under} name={name} label={label} frame={frame} placing={placing} />
  );
  // In a pane the wipe runs through the pane: its line is seen in every corner.
  const inPane = { left: 0, top: 0, scaleX: 1, scaleY: 1 };
  const clipPath = compare.way === "wipe" && !held ? wipeClip(compare.line, room, inPane) : undefined;
  const reference =
    other && layer(other, `reference ${pane.name}`, `What it is compared with, ${pane.name.toLowerCase()}`);
  return (
    <div
      ref={node}
      className={`relative cursor-grab touch-none overflow-hidden border border-line ${pane.x === 0 ? "col-start-2 row-span-2 row-start-1" : pane.x < 0 ? "col-start-1" : "col-start-3"} ${pane.y > 0 ? "row-start-2" : "row-start-1"}`}
      {...bind()}
    >
      <div className={isBeside ? "grid h-full grid-cols-2 gap-px" : "h-full"}>
        <div className="relative h-full overflow-hidden">
          {layer(picture, pane.name, pane.name)}
          {!isBeside && reference && (
            <div className="absolute inset-0" style={{ clipPath }}>
              {reference}
            </div>
          )}
        </div>
        {isBeside && <div className="relative h-full overflow-hidden">{reference}</div>}
      </div>
      <span className="pointer-events-none absolute bottom-1 left-1 rounded bg-black/60 px-1 text-quiet">
        {pane.name}
      </span>
    </div>
  );
}
