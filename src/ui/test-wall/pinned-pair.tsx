"use client";
import { Eye, X } from "lucide-react";
import { useState } from "react";
import type { Look } from "@/core/look/look";
import { PairRoom } from "../compare/pair-room";
import { WayButtons } from "../compare/way-buttons";
import { enoughFor, type Wanted } from "../pictures/scheduler";
import { usePicture } from "../pictures/use-picture";
import type { Way } from "../view/compare";
import type { Extent } from "../viewport/place";
import type { Sight } from "../viewport/viewport";

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
  const [isHeld, setHeld] = useState(false);
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
  const hold = {
    onPointerDown: () => setHeld(true),
    onPointerUp: () => setHeld(false),
    onPointerLeave: () => setHeld(false),
  };
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
      <PairRoom
        name="pinned"
        own={{ ...own, label: first.label }}
        other={{ ...other, label: second.label }}
        way={way}
        isHeld={isHeld}
        tag={isHeld ? second.label : isDifference ? `Difference, ${times} times, on mid-grey` : first.label}
        frame={frame}
        stretch={stretch}
        onSight={setSight}
      />
    </section>
  );
}
