"use client";
import type {
  AngleHandle,
  HandleFrame,
  Moved,
  PlacingHandle,
  Point,
  PointHandle,
  PolygonHandle,
  RadiusHandle,
} from "@/core/handles/handle";
import { pointAt, withPointAt } from "@/core/handles/handle";
import {
  circleAt,
  laidAt,
  polygonAt,
  rayAt,
  withLaidAt,
  withPolygonAt,
  withRadiusAt,
  withRayAt,
} from "@/core/handles/places";
import { type Spot, toRoom } from "../place";
import { useDragOnPicture } from "./drag";
import { Knob, type OnPicture, Stroke } from "./knob";

export interface HandleProps<H> extends OnPicture {
  handle: H;
  values: Record<string, unknown>;
  frame: HandleFrame;
  /** How much wider the frame is shown. */
  stretch: number;
  limits(name: string): { min: number; max: number };
  onMove(moved: Moved): void;
}

const spot = ([x, y]: Point): Spot => ({ x, y });

export function PointOnPicture({ placing, handle, values, frame, onMove }: HandleProps<PointHandle>) {
  return (
    <Knob
      placing={placing}
      drawn="ring"
      label={handle.label}
      at={spot(pointAt(handle, values, frame))}
      onDrag={({ x, y }) => onMove(withPointAt(handle, [x, y], frame))}
    />
  );
}

const FEWEST = 3;
const MOST = 64;

/** A closed line: its points are dragged, added where it is pressed, taken away by Delete; all of it by its middle. */
export function PolygonOnPicture({ placing, handle, values, frame, onMove }: HandleProps<PolygonHandle>) {
  const { points } = polygonAt(handle, values, frame);
  const set = (changed: readonly Point[]) => onMove(withPolygonAt(handle, changed, frame));
  const middle: Point = [0, 1].map(
    (axis) => points.reduce((sum, point) => sum + point[axis]!, 0) / points.length,
  ) as unknown as Point;
  return (
    <g role="group" aria-label="Points of the area">
      <Stroke placing={placing} points={points.map(spot)} closed />
      {points.map((point, i) => (
        <Side
          key={i}
          placing={placing}
          from={point}
          to={points[(i + 1) % points.length]!}
          onAdd={(at) => points.length < MOST && set([...points.slice(0, i + 1), at, ...points.slice(i + 1)])}
          onDrag={(at) => set(points.map((old, k) => (k === i + 1 ? at : old)))}
        />
      ))}
      <Knob
        placing={placing}
        drawn="ring"
        label={`${handle.label}: all of it`}
        at={spot(middle)}
        onDrag={({ x, y }) => set(points.map(([px, py]) => [px + x - middle[0], py + y - middle[1]]))}
      />
      {points.map((point, i) => (
        <Knob
          key={i}
          placing={placing}
          label={`Point ${i + 1}`}
          at={spot(point)}
          onDrag={({ x, y }) => set(points.map((old, k) => (k === i ? [x, y] : old)))}
          onRemove={points.length > FEWEST ? () => set(points.filter((_, k) => k !== i)) : undefined}
        />
      ))}
    </g>
  );
}

/** A side of a polygon: a press adds a point there, which is dragged on. */
function Side({
  placing,
  from,
  to,
  onAdd,
  onDrag,
}: OnPicture & { from: Point; to: Point; onAdd(at: Point): void; onDrag(at: Point): void }) {
  const drag = useDragOnPicture(
    placing,
    ({ x, y }) => onDrag([x, y]),
    undefined,
    ({ x, y }) => onAdd([x, y]),
  );
  const [a, b] = [toRoom(placing, spot(from)), toRoom(placing, spot(to))];
  return (
    <line
      x1={a.x}
      y1={a.y}
      x2={b.x}
      y2={b.y}
      stroke="transparent"
      strokeWidth={12}
      pointerEvents="stroke"
      className="cursor-copy touch-none"
      aria-hidden
      {...drag}
    >
      <title>Press to add a point</title>
    </line>
  );
}

/** How far from the middle an angle is taken where it has no length of its own, share of the frame's height. */
const ARM = 0.3;

export function AngleOnPicture({ placing, handle, values, frame, stretch, limits, onMove }: HandleProps<AngleHandle>) {
  const ray = rayAt(handle, values, frame);
  const { centre, angle } = ray;
  // An angle that is meant on the scene is drawn as the scene is shown.
  const wide = handle.plane === "scene" ? stretch : 1;
  const arm = ray.length ?? ARM * frame.height;
  const end = (sign: number): Spot => ({
    x: centre[0] + (sign * arm * Math.cos(angle)) / wide,
    y: centre[1] + sign * arm * Math.sin(angle),
  });
  return (
    <g>
      <Stroke placing={placing} points={[end(ray.length === null ? -1 : 0), end(1)]} thin />
      <Knob
        placing={placing}
        label={handle.label}
        at={end(1)}
        onDrag={({ x, y }) => {
          const [dx, dy] = [(x - centre[0]) * wide, y - centre[1]];
          const length = ray.length === null ? null : Math.hypot(dx, dy);
          onMove(withRayAt(handle, { centre, angle: Math.atan2(dy, dx), length }, frame, limits(handle.angle)));
        }}
      />
    </g>
  );
}

const STEPS = 96;

export function RadiusOnPicture({ placing, handle, values, frame, onMove }: HandleProps<RadiusHandle>) {
  const { centre, radius } = circleAt(handle, values, frame);
  const through = ({ x, y }: Spot) => onMove(withRadiusAt(handle, Math.hypot(x - centre[0], y - centre[1]), frame));
  const at = (turn: number): Spot => ({
    x: centre[0] + radius * Math.cos(turn),
    y: centre[1] + radius * Math.sin(turn),
  });
  return (
    <g>
      <Stroke
        placing={placing}
        points={Array.from({ length: STEPS }, (_, i) => at((2 * Math.PI * i) / STEPS))}
        closed
        broken
        label={handle.label}
        onDrag={through}
      />
      <Knob placing={placing} drawn="small" label={handle.label} at={at(0)} onDrag={through} />
    </g>
  );
}

/** Where a picture is laid over the frame: moved by its middle, made larger by a corner, turned by its upper edge. */
export function PlacingOnPicture({ placing, handle, values, frame, stretch, onMove }: HandleProps<PlacingHandle>) {
  const laid = laidAt(handle, values, frame);
  const { centre, size, turn } = laid;
  const set = (changed: Partial<typeof laid>) => onMove(withLaidAt(handle, { ...laid, ...changed }, frame));
  // It turns on the scene, as it is shown.
  const at = (u: number, v: number): Spot => {
    const [x, y] = [(u * size * frame.width * stretch) / 2, (v * size * frame.height) / 2];
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return { x: centre[0] + (x * c - y * s) / stretch, y: centre[1] + x * s + y * c };
  };
  const reach = ({ x, y }: Spot) => Math.hypot((x - centre[0]) * stretch, y - centre[1]);
  return (
    <g>
      <Stroke placing={placing} points={[at(-1, -1), at(1, -1), at(1, 1), at(-1, 1)]} closed />
      <Knob
        placing={placing}
        drawn="small"
        label={`${handle.label}: size`}
        at={at(1, 1)}
        onDrag={(to) => set({ size: (size * reach(to)) / (reach(at(1, 1)) || 1) })}
      />
      <Knob
        placing={placing}
        drawn="small"
        label={`${handle.label}: turn`}
        at={at(0, -1)}
        onDrag={({ x, y }) => set({ turn: Math.atan2((x - centre[0]) * stretch, centre[1] - y) })}
      />
      <Knob
        placing={placing}
        label={`${handle.label}: centre`}
        at={spot(centre)}
        onDrag={({ x, y }) => set({ centre: [x, y] })}
      />
    </g>
  );
}
