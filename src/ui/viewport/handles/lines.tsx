"use client";
import type { HandleFrame, LinesHandle, Moved } from "@/core/handles/handle";
import { type Lines, linesAt, onLine, withInnerThrough, withLinesAt, withOuterThrough } from "@/core/handles/lines";
import type { Spot } from "../place";
import { Knob, type OnPicture, Stroke } from "./knob";

const STEPS = 120;
const RIGHT = 0;
const BELOW = Math.PI / 2;
const LEFT = Math.PI;
const ABOVE = -Math.PI / 2;
/** Where the outer line's knob stands, and that of the feather. */
const ASLANT = Math.PI * 0.75;
/** Way from the shape to the knob that turns it, against its inner line. */
const TURN_AT = 1.25;
/** Least extent of an inner line, px of the frame. */
const LEAST = 1;

const spot = ([x, y]: readonly [number, number]): Spot => ({ x, y });
const outline = (lines: Lines, times: number) =>
  Array.from({ length: STEPS }, (_, i) => spot(onLine(lines, times, (2 * Math.PI * i) / STEPS)));

interface Props extends OnPicture {
  handle: LinesHandle;
  values: Record<string, unknown>;
  frame: HandleFrame;
  onMove(moved: Moved): void;
}

/** An inner and an outer line: each dragged by itself, moved by the centre, made wider or higher, turned, feathered. */
export function LinesOnPicture({ placing, handle, values, frame, onMove }: Props) {
  const lines = linesAt(handle, values, frame);
  const { centre, turn, outer, feather } = lines;
  const set = (changed: Lines) => onMove(withLinesAt(handle, changed, frame));
  /** Where a place lies along the lines' own axes. */
  const own = ({ x, y }: Spot) => {
    const [dx, dy] = [x - centre[0], y - centre[1]];
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return { u: Math.abs(dx * c + dy * s), v: Math.abs(dy * c - dx * s) };
  };
  const at = (times: number, angle: number) => spot(onLine(lines, times, angle));
  const outside = handle.full === "outside";
  const named = (part: string) => `${handle.label}: ${part}`;
  const featherFrom = onLine(lines, outer, -ASLANT);
  const way = Math.hypot(featherFrom[0] - centre[0], featherFrom[1] - centre[1]) || 1;
  const outwards = [(featherFrom[0] - centre[0]) / way, (featherFrom[1] - centre[1]) / way] as const;
  const common = { placing };
  return (
    <g>
      <Stroke {...common} points={[at(1, ABOVE), at(TURN_AT, ABOVE)]} thin />
      <Stroke
        {...common}
        points={outline(lines, outer)}
        closed
        broken={!outside}
        label={named("outer line")}
        onDrag={({ x, y }) => set(withOuterThrough(lines, [x, y]))}
      />
      <Stroke
        {...common}
        points={outline(lines, 1)}
        closed
        broken={outside}
        label={named("inner line")}
        onDrag={({ x, y }) => set(withInnerThrough(lines, [x, y]))}
      />
      {feather !== null && (
        <>
          <Stroke
            {...common}
            points={[
              spot(featherFrom),
              { x: featherFrom[0] + outwards[0] * feather, y: featherFrom[1] + outwards[1] * feather },
            ]}
            thin
            broken
          />
          <Knob
            {...common}
            drawn="small"
            label={named("feather")}
            at={{ x: featherFrom[0] + outwards[0] * feather, y: featherFrom[1] + outwards[1] * feather }}
            onDrag={({ x, y }) =>
              set({
                ...lines,
                feather: Math.max(0, (x - featherFrom[0]) * outwards[0] + (y - featherFrom[1]) * outwards[1]),
              })
            }
          />
        </>
      )}
      <Knob
        {...common}
        drawn="small"
        label={named("outer line")}
        at={at(outer, ASLANT)}
        onDrag={({ x, y }) => set(withOuterThrough(lines, [x, y]))}
      />
      <Knob
        {...common}
        drawn="small"
        label={named("width")}
        at={at(1, RIGHT)}
        onDrag={(to) => set({ ...lines, a: Math.max(LEAST, own(to).u) })}
      />
      <Knob
        {...common}
        drawn="small"
        label={named("height")}
        at={at(1, BELOW)}
        onDrag={(to) => set({ ...lines, b: Math.max(LEAST, own(to).v) })}
      />
      <Knob
        {...common}
        drawn="small"
        label={named("inner line")}
        at={at(1, LEFT)}
        onDrag={({ x, y }) => set(withInnerThrough(lines, [x, y]))}
      />
      <Knob
        {...common}
        drawn="small"
        label={named("turn")}
        at={at(TURN_AT, ABOVE)}
        onDrag={({ x, y }) => set({ ...lines, turn: Math.atan2(x - centre[0], centre[1] - y) })}
      />
      <Knob
        {...common}
        label={named("centre")}
        at={spot(centre)}
        onDrag={({ x, y }) => set({ ...lines, centre: [x, y] })}
      />
    </g>
  );
}
