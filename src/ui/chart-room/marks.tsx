"use client";
import type { Region } from "@/core/measure/chart";
import type { EdgesReading, GridReading, PointReading } from "@/core/measure/readings";
import { toRoom, type ViewTransform } from "../viewport/place";

type At = (x: number, y: number) => { x: number; y: number };

/** Dots are drawn with what they lie from the model so many times as far. */
const MAGNIFIED = 60;

/** The part of a frame that is measured. */
export function RegionMark({ region, placing }: { region: Region; placing: ViewTransform }) {
  const from = toRoom(placing, { x: region.left, y: region.top });
  const to = toRoom(placing, { x: region.left + region.width, y: region.top + region.height });
  return (
    <rect
      x={from.x}
      y={from.y}
      width={to.x - from.x}
      height={to.y - from.y}
      fill="none"
      stroke="var(--color-halo)"
      strokeDasharray="5 4"
    />
  );
}

/** Edges that were measured: pressed, one is taken out, or put back. What could not be measured is crossed. */
export function EdgeMarks({
  reading,
  leftOut,
  at,
  scale,
  onToggle,
}: {
  reading: EdgesReading;
  leftOut: readonly (readonly [number, number])[];
  at: At;
  /** CSS px a pixel of the frame. */
  scale: number;
  onToggle(x: number, y: number): void;
}) {
  const { pitch, axisX, axisY } = reading.place;
  return (
    <>
      {reading.edges.map(({ x, y, length, response }) => {
        const isOut = leftOut.some(([px, py]) => px === x && py === y);
        const [nx, ny] = response.normal;
        const middle = at(x, y);
        const half = (length / 2) * scale;
        const height = (Math.hypot(x - axisX, y - axisY) * pitch).toFixed(1);
        const label = `Edge at ${height} mm, ${Math.round(x)}, ${Math.round(y)} px`;
        return (
          <line
            key={`${x} ${y}`}
            role="button"
            tabIndex={0}
            aria-label={label}
            aria-pressed={isOut}
            x1={middle.x - ny * half}
            y1={middle.y + nx * half}
            x2={middle.x + ny * half}
            y2={middle.y - nx * half}
            stroke={isOut ? "#777777" : "var(--color-halo)"}
            strokeDasharray={isOut ? "3 3" : undefined}
            strokeWidth={3}
            className="pointer-events-auto cursor-pointer"
            onPointerDown={(event) => event.stopPropagation()}
            onClick={() => onToggle(x, y)}
            onKeyDown={(event) => {
              if (event.key !== "Enter" && event.key !== " ") return;
              event.preventDefault();
              onToggle(x, y);
            }}
          >
            <title>{`${label}: ${isOut ? "left out; press to take it in" : "press to leave it out"}`}</title>
          </line>
        );
      })}
      {reading.refused.map(({ x, y, reason }) => {
        const place = at(x, y);
        return (
          <g key={`${x} ${y}`} stroke="var(--color-warning)" strokeWidth={1.5} className="pointer-events-auto">
            <line x1={place.x - 5} y1={place.y - 5} x2={place.x + 5} y2={place.y + 5} />
            <line x1={place.x - 5} y1={place.y + 5} x2={place.x + 5} y2={place.y - 5} />
            <title>{reason}</title>
          </g>
        );
      })}
    </>
  );
}

/** Dots that were found, each with how far it lies from the model, magnified. */
export function GridMarks({ reading, at }: { reading: GridReading; at: At }) {
  return (
    <g stroke="var(--color-halo)" fill="none">
      {reading.dots.map(({ x, y, modelX, modelY }) => {
        const place = at(x, y);
        const off = at(x + MAGNIFIED * (x - modelX), y + MAGNIFIED * (y - modelY));
        return (
          <g key={`${x} ${y}`}>
            <circle cx={place.x} cy={place.y} r={2.5} />
            <line x1={place.x} y1={place.y} x2={off.x} y2={off.y} stroke="var(--color-warning)" />
          </g>
        );
      })}
    </g>
  );
}

/** A ring about a lamp is at least so large, CSS px. */
const MIN_RING = 6;

/** Lamps that were found, each in a ring. */
export function LampMarks({ reading, at, scale }: { reading: PointReading; at: At; scale: number }) {
  return (
    <g stroke="var(--color-halo)" fill="none">
      {reading.lamps.map(({ x, y, radius }) => {
        const place = at(x, y);
        return <circle key={`${x} ${y}`} cx={place.x} cy={place.y} r={Math.max(MIN_RING, radius * scale + 2)} />;
      })}
    </g>
  );
}
