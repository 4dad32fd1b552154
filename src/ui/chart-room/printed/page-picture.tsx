"use client";
import { useMemo, useState } from "react";
import { type Looking, toRoom, type ViewTransform, WHOLE } from "../../viewport/place";
import { type Tool, Viewport } from "../../viewport/viewport";
import { INKS } from "../../cabinet/chart";
import { PictureCanvas } from "../picture-canvas";
import type { DroppedPage } from "./page";
import { type CurveRead, handlesOf } from "./read-curves";
import { type AxisName, type DraftCurve, type MarkName, type Place, usePrinted } from "./session";

const MARKS: readonly (readonly [AxisName, MarkName])[] = [
  ["x", "from"],
  ["x", "to"],
  ["y", "from"],
  ["y", "to"],
];
/** px of the screen within which a handle is pressed. */
const NEAR = 9;

/** Arrow keys move a mark by a px of the page, with Shift by ten. */
const ARROWS: Record<string, Place> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** The page with its axes marked and its curves followed: marks and points are dragged, a line is pointed at. */
export function PagePicture({
  page,
  read,
  isPointing,
  onPointed,
}: {
  page: DroppedPage;
  read: readonly (CurveRead | null)[];
  /** The next press says where the chosen curve's line lies. */
  isPointing: boolean;
  onPointed(): void;
}) {
  const { axes, curves, chosen, setMark, changeCurve } = usePrinted();
  const [looking, setLooking] = useState<Looking>(WHOLE);
  const { width, height } = page.page;
  const curve = curves.find(({ id }) => id === chosen);
  const own = read[curves.findIndex(({ id }) => id === chosen)];
  const handles = useMemo(() => (own && "places" in own ? handlesOf(own.places) : (curve?.points ?? [])), [own, curve]);

  const isNear = (placing: ViewTransform, a: { x: number; y: number }, [x, y]: Place) => {
    const [p, q] = [toRoom(placing, a), toRoom(placing, { x, y })];
    return Math.hypot(p.x - q.x, p.y - q.y) < NEAR;
  };
  const within = ({ x, y }: { x: number; y: number }): Place => [
    Math.min(width, Math.max(0, x)),
    Math.min(height, Math.max(0, y)),
  ];
  const pointing: Tool = {
    press(at) {
      if (!isPointing || !curve) return null;
      return {
        move() {},
        end() {
          changeCurve(curve.id, { from: within(at), points: undefined });
          onPointed();
        },
      };
    },
  };
  const marking: Tool = {
    press(at, placing) {
      const away = ([axis, end]: (typeof MARKS)[number]) => {
        const [x, y] = axes[axis][end].at;
        return Math.hypot(at.x - x, at.y - y);
      };
      const mark = MARKS.filter(([axis, end]) => isNear(placing, at, axes[axis][end].at)).sort(
        (a, b) => away(a) - away(b),
      )[0];
      return mark ? { move: (to) => setMark(mark[0], mark[1], { at: within(to) }) } : null;
    },
  };
  const bending: Tool = {
    press(at, placing) {
      const k = handles.findIndex((handle) => isNear(placing, at, handle));
      if (k < 0 || !curve) return null;
      // What was followed becomes points: the one that is dragged is set by hand.
      return {
        move: (to) =>
          changeCurve(curve.id, {
            from: undefined,
            points: handles.map((handle, i) => (i === k ? within(to) : handle)),
          }),
      };
    },
  };
  return (
    <div className="relative min-h-0 flex-1 overflow-hidden bg-[#101010]">
      <Viewport
        frame={{ width, height }}
        stretch={1}
        looking={looking}
        onLooking={setLooking}
        tools={[pointing, marking, bending]}
        cursor={isPointing ? "crosshair" : undefined}
        onHover={() => {}}
      >
        {(placing) => (
          <>
            <PictureCanvas bitmap={page.bitmap} placing={placing} label="The page" />
            <svg className="pointer-events-none absolute inset-0 size-full" aria-label="What was found on the page">
              {curves.map((one, i) => (
                <Followed
                  key={one.id}
                  curve={one}
                  read={read[i] ?? null}
                  isChosen={one.id === chosen}
                  placing={placing}
                />
              ))}
              {handles.map(([x, y], k) => {
                const at = toRoom(placing, { x, y });
                return (
                  <circle
                    key={k}
                    cx={at.x}
                    cy={at.y}
                    r={4}
                    fill="#1b1b1b"
                    stroke="var(--color-halo)"
                    strokeWidth={1.5}
                  />
                );
              })}
              {MARKS.map(([axis, end]) => {
                const { at, value } = axes[axis][end];
                const place = toRoom(placing, { x: at[0], y: at[1] });
                const label = `Mark of the ${axis} axis at ${value}`;
                return (
                  <g
                    key={`${axis} ${end}`}
                    role="button"
                    tabIndex={0}
                    aria-label={label}
                    stroke="#b3261e"
                    fill="none"
                    strokeWidth={1.5}
                    onKeyDown={(event) => {
                      const way = ARROWS[event.key];
                      if (!way) return;
                      event.preventDefault();
                      const by = event.shiftKey ? 10 : 1;
                      setMark(axis, end, { at: within({ x: at[0] + way[0] * by, y: at[1] + way[1] * by }) });
                    }}
                  >
                    <circle cx={place.x} cy={place.y} r={6} />
                    <line x1={place.x - 11} y1={place.y} x2={place.x + 11} y2={place.y} />
                    <line x1={place.x} y1={place.y - 11} x2={place.x} y2={place.y + 11} />
                    <text
                      x={axis === "x" ? place.x + 9 : place.x - 9}
                      y={axis === "x" ? place.y - 9 : place.y - 12}
                      textAnchor={axis === "x" ? "start" : "end"}
                      fill="#b3261e"
                      stroke="none"
                      fontSize={12}
                    >
                      {axis} = {value}
                    </text>
                  </g>
                );
              })}
            </svg>
          </>
        )}
      </Viewport>
    </div>
  );
}

/** The line of a curve as it was followed. */
function Followed({
  read,
  isChosen,
  placing,
}: {
  curve: DraftCurve;
  read: CurveRead | null;
  isChosen: boolean;
  placing: ViewTransform;
}) {
  if (!read || "problem" in read) return null;
  const points = read.places.map(([x, y]) => {
    const at = toRoom(placing, { x, y });
    return `${at.x.toFixed(1)},${at.y.toFixed(1)}`;
  });
  // Paper is light and pages are dark by turns: the line has an edge that stands out on either.
  return (
    <g fill="none" opacity={0.9}>
      <polyline points={points.join(" ")} stroke="#1b1b1b" strokeWidth={isChosen ? 4.5 : 3} />
      <polyline
        points={points.join(" ")}
        stroke={isChosen ? "var(--color-halo)" : INKS[1]}
        strokeWidth={isChosen ? 2 : 1.2}
      />
    </g>
  );
}
