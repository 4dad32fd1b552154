"use client";
import type { Extent, Placing } from "../viewport/place";
import type { Tool } from "../viewport/viewport";

/** How near to the edge the hand takes it, CSS px. */
const REACH = 14;
/** Moved by an arrow key, share of the width. */
const STEP = 0.02;
const share = (value: number) => Math.min(1, Math.max(0, value));

export interface WipeProps {
  /** Share of the frame's width. */
  edge: number;
  onEdge(edge: number): void;
}

/** Takes the edge of a wipe where the hand is near it. */
export const wipeTool = ({ edge, onEdge }: WipeProps, { width }: Extent): Tool => ({
  press: ({ x }, { scaleX }) =>
    Math.abs(x - edge * width) * scaleX < REACH ? { move: (at) => onEdge(share(at.x / width)) } : null,
});

/** The movable edge between a picture and what it is compared with. */
export function WipeEdge({
  edge,
  onEdge,
  name,
  frame,
  placing,
  room,
}: WipeProps & { name: string; frame: Extent; placing: Placing; room: Extent }) {
  const top = Math.max(0, placing.top);
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Edge of the wipe"
      aria-valuenow={Math.round(edge * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      onKeyDown={(event) => {
        if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
        event.preventDefault();
        event.stopPropagation();
        onEdge(share(edge + (event.key === "ArrowLeft" ? -STEP : STEP)));
      }}
      className="absolute w-px cursor-ew-resize bg-halo"
      style={{
        left: placing.left + edge * frame.width * placing.scaleX,
        top,
        height: Math.min(room.height, placing.top + frame.height * placing.scaleY) - top,
      }}
    >
      <span className="absolute top-2 right-2 rounded bg-black/60 px-1.5 whitespace-nowrap">{name}</span>
      <span className="absolute top-2 left-2 rounded bg-black/60 px-1.5">with</span>
    </div>
  );
}
