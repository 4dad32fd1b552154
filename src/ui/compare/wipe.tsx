"use client";
import type { KeyboardEvent } from "react";
import type { Extent, ViewTransform, Spot } from "../viewport/place";
import { toFrame, toRoom } from "../viewport/place";
import type { Tool } from "../viewport/viewport";
import { useDragOnPicture } from "../viewport/handles/drag";
import { UPRIGHT, type WipeLine } from "../view/compare";
import { acrossLine, beyondLine, movedTo, referencePart, shifted, turnedTo } from "./line";

/** How near to the line the hand takes it, CSS px. */
const REACH = 14;
/** Moved by an arrow key, share of the width; turned, degrees; and with Shift. */
const STEP = 0.02;
const TURN = 1;
const FAR_TURN = 15;
/** From the line's middle to where it is turned, CSS px; and beyond the room's corners. */
const ARM = 74;
const BEYOND = 4000;

export interface WipeProps {
  line: WipeLine;
  onLine(line: WipeLine): void;
}

const sizeOf = ({ width, height }: Extent, { scaleX, scaleY }: ViewTransform): Extent => ({
  width: width * scaleX,
  height: height * scaleY,
});
/** A place of the frame, on the picture as it is shown. */
const onPicture = ({ x, y }: Spot, { scaleX, scaleY }: ViewTransform): Spot => ({ x: x * scaleX, y: y * scaleY });

/** Takes the line of a wipe where the hand is near it. */
export const wipeTool = ({ line, onLine }: WipeProps, frame: Extent): Tool => ({
  press(at, placing) {
    const size = sizeOf(frame, placing);
    if (Math.abs(beyondLine(line, size, onPicture(at, placing))) >= REACH) return null;
    return { move: (to) => onLine(movedTo(line, size, onPicture(to, placing))) };
  },
});

/** The part of the room in which the reference is seen, for CSS. */
export function wipeClip(line: WipeLine, frame: Extent, placing: ViewTransform): string {
  const corners = referencePart(line, sizeOf(frame, placing));
  const px = (value: number) => `${value.toFixed(2)}px`;
  const placed = corners.map(({ x, y }) => toRoom(placing, { x: x * frame.width, y: y * frame.height }));
  return placed.length ? `polygon(${placed.map(({ x, y }) => `${px(x)} ${px(y)}`).join(", ")})` : "inset(0 100% 0 0)";
}

/**
 * The line between a picture and what it is held against: moved by its middle, turned by its arm, by hand and by arrow
 * keys.
 */
export function WipeEdge({
  line,
  onLine,
  name,
  ownName = "as it is",
  frame,
  placing,
}: WipeProps & { name: string; ownName?: string; frame: Extent; placing: ViewTransform }) {
  const size = sizeOf(frame, placing);
  const across = acrossLine(line);
  const along = { x: across.y, y: -across.x };
  const middle = toRoom(placing, { x: line.x * frame.width, y: line.y * frame.height });
  const at = (far: number): Spot => ({ x: middle.x + along.x * far, y: middle.y + along.y * far });
  const [from, to, arm] = [at(-BEYOND), at(BEYOND), at(ARM)];
  const inFrame = (spot: Spot): Spot => toFrame(placing, spot);
  const move = useDragOnPicture(
    placing,
    (spot) => onLine(movedTo(line, size, onPicture(spot, placing))),
    inFrame(middle),
  );
  const turn = useDragOnPicture(
    placing,
    (spot) => onLine(turnedTo(line, size, onPicture(spot, placing))),
    inFrame(arm),
  );
  const keys = (act: (way: 1 | -1, far: boolean) => void) => (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key] as 1 | -1 | undefined;
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    act(way, event.shiftKey);
  };
  const side = (sign: 1 | -1) => ({
    left: middle.x + sign * across.x * 12,
    top: middle.y + sign * across.y * 12 + 26,
    transform: `translate(${sign * across.x < 0 ? "-100%" : "0"}, 0)`,
  });
  return (
    <>
      <svg
        className="pointer-events-none absolute inset-0 h-full w-full overflow-hidden"
        role="group"
        aria-label="Wipe"
      >
        <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} stroke="#000" strokeOpacity="0.5" strokeWidth="3" />
        <line x1={from.x} y1={from.y} x2={to.x} y2={to.y} stroke="var(--color-halo)" strokeWidth="1" />
        <g
          role="slider"
          tabIndex={0}
          aria-label="Edge of the wipe"
          aria-valuenow={Math.round(line.x * 100)}
          aria-valuemin={0}
          aria-valuemax={100}
          className="pointer-events-auto cursor-move touch-none"
          onKeyDown={keys((way) => onLine(shifted(line, size, way * STEP)))}
          {...move}
          onDoubleClick={(event) => {
            event.stopPropagation();
            onLine(UPRIGHT);
          }}
        >
          <title>Drag to move the wipe; a double press sets it upright in the middle</title>
          <circle cx={middle.x} cy={middle.y} r={11} fill="transparent" />
          <circle cx={middle.x} cy={middle.y} r={6} fill="#1b1b1b" stroke="var(--color-halo)" strokeWidth="1.5" />
        </g>
        <g
          role="slider"
          tabIndex={0}
          aria-label="Angle of the wipe"
          aria-valuenow={Math.round(line.angle)}
          aria-valuemin={-180}
          aria-valuemax={180}
          aria-valuetext={`${Math.round(line.angle)}° from upright`}
          className="pointer-events-auto cursor-move touch-none"
          onKeyDown={keys((way, far) =>
            onLine({ ...line, angle: wrapped(line.angle + way * (far ? FAR_TURN : TURN)) }),
          )}
          {...turn}
        >
          <title>Drag to turn the wipe</title>
          <circle cx={arm.x} cy={arm.y} r={11} fill="transparent" />
          <circle cx={arm.x} cy={arm.y} r={4} fill="#1b1b1b" stroke="var(--color-halo)" strokeWidth="1.5" />
        </g>
      </svg>
      <span className="pointer-events-none absolute rounded bg-black/60 px-1.5 whitespace-nowrap" style={side(-1)}>
        {name}
      </span>
      <span className="pointer-events-none absolute rounded bg-black/60 px-1.5 whitespace-nowrap" style={side(1)}>
        {ownName}
      </span>
    </>
  );
}

const wrapped = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;
