"use client";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";

type Point = [number, number];

interface Props {
  /** x in % of width and y in % of height, from the frame's centre. */
  points: Point[];
  /** Where the frame lies on the screen, px. */
  left: number;
  top: number;
  width: number;
  height: number;
  onChange(points: Point[]): void;
}

const FEWEST = 3;
const MOST = 64;
/** % moved by an arrow key. */
const STEP = 0.5;
const RADIUS = 6;
const ARROWS: Record<string, Point> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

/** Distance of a place from the line between two points. */
function fromLine([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const length = (bx - ax) ** 2 + (by - ay) ** 2;
  const t = length ? Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0;
  return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay));
}

/** A polygon's line over the picture: its points are dragged, moved by arrow keys, added by a click and taken away by Delete. */
export function AreaPoints({ points, left, top, width, height, onChange }: Props) {
  const frame = useRef<SVGSVGElement>(null);
  const [dragged, setDragged] = useState<number | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const placeOf = (event: PointerEvent): Point => {
    const box = frame.current!.getBoundingClientRect();
    return [((event.clientX - box.left) / width - 0.5) * 100, ((event.clientY - box.top) / height - 0.5) * 100].map(
      (value) => Number(value.toFixed(2)),
    ) as Point;
  };
  const onScreen = ([x, y]: Point): Point => [(x / 100 + 0.5) * width, (y / 100 + 0.5) * height];
  const replace = (i: number, point: Point) => onChange(points.map((old, k) => (k === i ? point : old)));

  const add = (event: PointerEvent) => {
    if (event.target !== event.currentTarget || event.button !== 0 || points.length >= MOST) return;
    const place = placeOf(event);
    const distances = points.map((point, i) =>
      fromLine(onScreen(place), onScreen(point), onScreen(points[(i + 1) % points.length]!)),
    );
    const at = distances.indexOf(Math.min(...distances)) + 1;
    onChange([...points.slice(0, at), place, ...points.slice(at)]);
    setChosen(at);
    setDragged(at);
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onKey = (event: KeyboardEvent, i: number) => {
    const step = ARROWS[event.key];
    const removes = event.key === "Delete" || event.key === "Backspace";
    if (!step && !removes) return;
    event.preventDefault();
    event.stopPropagation();
    if (step) replace(i, [points[i]![0] + step[0], points[i]![1] + step[1]]);
    else if (points.length > FEWEST) onChange(points.filter((_, k) => k !== i));
  };

  return (
    <svg
      ref={frame}
      role="group"
      aria-label="Points of the area"
      className="absolute cursor-crosshair touch-none overflow-visible"
      style={{ left, top, width, height }}
      onPointerDown={add}
      onPointerMove={(event) => dragged !== null && replace(dragged, placeOf(event))}
      onPointerUp={() => setDragged(null)}
    >
      <polygon
        points={points.map((point) => onScreen(point).join()).join(" ")}
        fill="none"
        stroke="#000"
        strokeOpacity={0.5}
        strokeWidth={3}
        pointerEvents="none"
      />
      <polygon
        points={points.map((point) => onScreen(point).join()).join(" ")}
        fill="none"
        stroke="var(--color-halo)"
        strokeWidth={1.25}
        pointerEvents="none"
      />
      {points.map((point, i) => {
        const [cx, cy] = onScreen(point);
        return (
          <circle
            key={i}
            role="button"
            tabIndex={0}
            aria-label={`Point ${i + 1}`}
            cx={cx}
            cy={cy}
            r={RADIUS}
            fill={chosen === i ? "var(--color-halo)" : "#1b1b1b"}
            stroke="var(--color-halo)"
            strokeWidth={1.5}
            className="cursor-move outline-offset-2"
            onFocus={() => setChosen(i)}
            onKeyDown={(event) => onKey(event, i)}
            onPointerDown={(event) => {
              if (event.button !== 0) return;
              setChosen(i);
              setDragged(i);
              frame.current!.setPointerCapture(event.pointerId);
            }}
          />
        );
      })}
    </svg>
  );
}
