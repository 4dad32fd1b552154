"use client";
import type { KeyboardEvent } from "react";
import { type ViewTransform, type Spot, toFrame, toRoom } from "../place";
import { useDragOnPicture } from "./drag";

/** What every part of a handle is drawn with. */
export interface OnPicture {
  placing: ViewTransform;
}

interface Props extends OnPicture {
  /** Where it lies, px of the frame. */
  at: Spot;
  label: string;
  onDrag(at: Spot): void;
  onRemove?(): void;
  /** Small ones stand on what they belong to; the ring is a place that is looked through. */
  drawn?: "knob" | "small" | "ring";
}

/** CSS px moved by an arrow key, and with Shift. */
const STEP = 1;
const FAR = 10;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
const RADIUS = { knob: 6, small: 4.5, ring: 9 };
/** The hand takes it from further off than it is drawn. */
const REACH = 11;

/** A part of a handle that is dragged, or moved by arrow keys. */
export function Knob({ placing, at, label, onDrag, onRemove, drawn = "knob" }: Props) {
  const place = toRoom(placing, at);
  const drag = useDragOnPicture(placing, onDrag, at);
  const onKeyDown = (event: KeyboardEvent) => {
    const way = ARROWS[event.key];
    const removes = onRemove && (event.key === "Delete" || event.key === "Backspace");
    if (!way && !removes) return;
    event.preventDefault();
    event.stopPropagation();
    if (removes) return onRemove();
    const by = event.shiftKey ? FAR : STEP;
    onDrag(toFrame(placing, { x: place.x + way![0] * by, y: place.y + way![1] * by }));
  };
  const radius = RADIUS[drawn];
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={label}
      className="pointer-events-auto cursor-move touch-none"
      onKeyDown={onKeyDown}
      {...drag}
    >
      <title>{label}</title>
      <circle cx={place.x} cy={place.y} r={REACH} fill="transparent" />
      <circle
        cx={place.x}
        cy={place.y}
        r={radius}
        fill={drawn === "ring" ? "transparent" : "#1b1b1b"}
        stroke="#000"
        strokeOpacity={0.55}
        strokeWidth={3.5}
      />
      <circle
        cx={place.x}
        cy={place.y}
        r={radius}
        fill={drawn === "ring" ? "transparent" : "#1b1b1b"}
        stroke="var(--color-halo)"
        strokeWidth={1.5}
      />
      {drawn === "ring" && <circle cx={place.x} cy={place.y} r={1.5} fill="var(--color-halo)" />}
    </g>
  );
}

interface StrokeProps extends OnPicture {
  points: readonly Spot[];
  closed?: boolean;
  /** Full effect is a solid line, none a broken one. */
  broken?: boolean;
  thin?: boolean;
  label?: string;
  onDrag?(at: Spot): void;
}

/** Width within which the hand takes a line, CSS px. */
const LINE_REACH = 12;

/** A line of a handle: drawn so that it is seen on light and on dark, and dragged where it can be. */
export function Stroke({ placing, points, closed = false, broken = false, thin = false, label, onDrag }: StrokeProps) {
  const drag = useDragOnPicture(placing, (at) => onDrag?.(at));
  const path =
    points
      .map((point, i) => {
        const { x, y } = toRoom(placing, point);
        return `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`;
      })
      .join("") + (closed ? "Z" : "");
  const dash = broken ? "6 5" : undefined;
  return (
    <>
      <path d={path} fill="none" stroke="#000" strokeOpacity={0.5} strokeWidth={thin ? 2.5 : 3.5} />
      <path
        d={path}
        fill="none"
        stroke="var(--color-halo)"
        strokeOpacity={thin ? 0.7 : 1}
        strokeWidth={thin ? 1 : 1.5}
        strokeDasharray={dash}
      />
      {onDrag && (
        <path
          d={path}
          fill="none"
          stroke="transparent"
          strokeWidth={LINE_REACH}
          pointerEvents="stroke"
          className="cursor-move touch-none"
          aria-hidden
          {...drag}
        >
          <title>{label}</title>
        </path>
      )}
    </>
  );
}
