"use client";
import { Eye, X } from "lucide-react";
import { useState } from "react";
import type { Look } from "@/core/look/look";
import { WayButtons } from "../compare/way-buttons";
import { wipeClip, WipeEdge, wipeTool } from "../compare/wipe";
import { enoughFor, type Wanted } from "../pictures/scheduler";
import { type Shown, usePicture } from "../pictures/use-picture";
import { UPRIGHT, type Way } from "../view/compare";
import { PictureLayer } from "../viewport/picture-layer";
import { type Extent, type Looking, type ViewTransform, WHOLE } from "../viewport/place";
import { type Sight, Viewport } from "../viewport/viewport";

/** A tile that was pinned. */
export interface PinnedTile {
  label: string;
  look: Look;
}

interface Props {
  pair: readonly [PinnedTile, PinnedTile];
  /** What both are of, but for the look. */
  wanted: Omit<Wanted, "look" | "output">;
  frame: Extent;
  stretch: number;
  onClose(): void;
}

/** Two tiles held against one another, large. */
export function PinnedPair({ pair: [first, second], wanted, frame, stretch, onClose }: Props) {
  const [way, setWay] = useState<Way>("wipe");
  const [times, setTimes] = useState<number>(8);
  const [line, setLine] = useState(UPRIGHT);
  const [isHeld, setHeld] = useState(false);
  const [looking, setLooking] = useState<Looking>(WHOLE);
  const [sight, setSight] = useState<Sight>({ rows: null, scale: 1 });
  const enough = enoughFor(sight.scale * frame.width, frame.width);
  const common = { ...wanted, rows: sight.rows, enough };
  const isDifference = way === "difference" && !isHeld;
  const own = usePicture("picture", {
    ...common,
    look: first.look,
    output: isDifference ? { kind: "difference", reference: second.look, times } : { kind: "display" },
  });
  const other = usePicture("compared", { ...common, look: second.look, output: { kind: "display" } });
  const wiping = { line, onLine: setLine };
  const layer = ({ picture, under }: Shown, name: string, label: string, placing: ViewTransform) => (
    <PictureLayer picture={picture} under={under} name={name} label={label} frame={frame} placing={placing} />
  );
  const room = (children: (placing: ViewTransform) => React.ReactNode, hasEdge: boolean) => (
    <div className="relative min-w-0 flex-1 overflow-hidden bg-[#101010]">
      <Viewport
        frame={frame}
        stretch={stretch}
        looking={looking}
        onLooking={setLooking}
        tools={hasEdge ? [wipeTool(wiping, frame)] : []}
        onHover={() => {}}
        onDoubleClick={() => setLooking(WHOLE)}
        onSight={setSight}
      >
        {children}
      </Viewport>
    </div>
  );
  const tag = (text: string) => (
    <span className="pointer-events-none absolute bottom-1 left-1 rounded bg-black/60 px-1.5">{text}</span>
  );
  const hold = {
    onPointerDown: () => setHeld(true),
    onPointerUp: () => setHeld(false),
    onPointerLeave: () => setHeld(false),
  };
  const isSide = way === "side" && !isHeld;
  const isWipe = way === "wipe" && !isHeld;
  return (
    <section aria-label="Pinned tiles" aria-busy={own.busy} className="flex h-full flex-col">
      <div className="flex h-8 shrink-0 items-center gap-1 border-b border-line px-2">
        <span className="truncate">
          {first.label} <span className="text-quiet">against</span> {second.label}
        </span>
        <span className="ml-auto" />
        <button
          type="button"
          className="btn btn-xs"
          title="Hold to see the second one alone"
          onKeyDown={({ key }) => key === " " && setHeld(true)}
          onKeyUp={() => setHeld(false)}
          {...hold}
        >
          <Eye size={13} /> Hold
        </button>
        <WayButtons way={way} times={times} onWay={setWay} onTimes={setTimes} />
        <button type="button" className="btn btn-xs btn-square" aria-label="Back to the tiles" onClick={onClose}>
          <X size={13} />
        </button>
      </div>
      <div className="flex min-h-0 flex-1 gap-px">
        {room(
          (placing) => (
            <>
              {layer(own, "pinned", isDifference ? "The difference" : first.label, placing)}
              {(isHeld || isWipe) && (
                <div
                  className="absolute inset-0"
                  style={{ clipPath: isWipe ? wipeClip(line, frame, placing) : undefined }}
                >
                  {layer(other, "pinned other", second.label, placing)}
                </div>
              )}
              {isWipe ? (
                <WipeEdge {...wiping} name={second.label} ownName={first.label} frame={frame} placing={placing} />
              ) : (
                tag(isHeld ? second.label : isDifference ? `Difference, ${times} times, on mid-grey` : first.label)
              )}
            </>
          ),
          isWipe,
        )}
        {isSide &&
          room(
            (placing) => (
              <>
                {layer(other, "pinned other", second.label, placing)}
                {tag(second.label)}
              </>
            ),
            false,
          )}
      </div>
    </section>
  );
}
