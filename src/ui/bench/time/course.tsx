"use client";
import { extremesOf } from "@/core/maths/extremes";
import { useMemo, useRef } from "react";
import { describe } from "@/core/look/describe";
import type { Path } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { keysAt, movedKeyframes, withKeyframeAt } from "@/core/look/timing";
import type { TimedValue } from "@/core/when/generator";
import { useShownLook, valueIn } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { type Place, useDragOver } from "../../shared/drag";
import { useView } from "../../view/store";
import { frameOf, type Lanes, xOf } from "./lanes";

const HEIGHT = 96;
const MARGIN = 12;
const MAX_SAMPLES = 400;
const COLOURS = ["#ff8d7a", "#8fd694", "#8fb4ff"];
const GREY = "#e8e8e8";

const numbersOf = (value: unknown): number[] => (Array.isArray(value) ? (value as number[]) : [Number(value)]);

interface Scale {
  low: number;
  high: number;
}
const toY = (value: number, { low, high }: Scale) =>
  HEIGHT - MARGIN - ((value - low) / (high - low)) * (HEIGHT - 2 * MARGIN);
const toValue = (y: number, { low, high }: Scale) =>
  low + ((HEIGHT - MARGIN - y) / (HEIGHT - 2 * MARGIN)) * (high - low);

/** A keyframe's value that is dragged, and the look as it was then. */
interface Grabbed {
  frame: number;
  channel: number;
  look: Look;
}

/** The course of a value over the shot: its keyframes are dragged in time and in value; a double press adds one. */
export function Course({ lanes, path }: { lanes: Lanes; path: Path }) {
  const shown = useShownLook();
  const { look } = shown;
  const { frame } = useView("frame");
  const drawing = useRef<SVGSVGElement>(null);
  const heldScale = useRef<Scale | null>(null);
  const { label, unit, min, max, step } = describe(look, path);
  const { first, last } = lanes;
  const samples = useMemo(() => {
    const by = Math.max(1, Math.ceil((last - first + 1) / MAX_SAMPLES));
    const frames = Array.from({ length: Math.floor((last - first) / by) + 1 }, (_, i) => first + i * by);
    return frames.map((at) => ({ frame: at, values: numbersOf(valueIn(shown, path, at)) }));
  }, [shown, path, first, last]);
  const all = samples.flatMap(({ values }) => values).filter(Number.isFinite);
  const { least, most } = extremesOf(all);
  const spare = (most - least) * 0.15 || Math.abs(most) * 0.2 || 1;
  // While a point is dragged the scale stays, so that it stays under the hand.
  const scale = heldScale.current ?? { low: least - spare, high: most + spare };
  const keys = keysAt(look, path) ?? [];
  const channels = samples[0]?.values.length ?? 1;

  const at = (event: { clientX: number; clientY: number }) => {
    const { left, top } = drawing.current!.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };
  const clamped = (value: number) => Number((Math.round(Math.min(max, Math.max(min, value)) / step) * step).toFixed(6));
  const move = (from: Grabbed, { x, y }: Place) => {
    const to = Math.round(Math.min(last, Math.max(first, frameOf(x, lanes))));
    const before = (keysAt(from.look, path) ?? []).find((key) => key.frame === from.frame)?.value;
    const values = numbersOf(before);
    values[from.channel] = clamped(toValue(y, scale));
    const moved = movedKeyframes(from.look, [{ path, frame: from.frame }], to - from.frame);
    // A drag begins from the look it found, whatever it made of it on the way.
    commit(() => withKeyframeAt(moved, path, (values.length > 1 ? values : values[0]) as TimedValue, to));
  };

  const bind = useDragOver(drawing, {
    press({ key, channel }: { key: number; channel: number }): Grabbed {
      heldScale.current = scale;
      return { frame: key, channel, look };
    },
    move,
    end: () => (heldScale.current = null),
  });

  return (
    <svg
      ref={drawing}
      role="group"
      aria-label={`Course of ${label}`}
      width={lanes.width}
      height={HEIGHT}
      className="touch-none bg-base-100 select-none"
      onDoubleClick={(event) => {
        const to = Math.round(frameOf(at(event).x, lanes));
        commit((now) => withKeyframeAt(now, path, valueIn(shown, path, to) as TimedValue, to));
      }}
    >
      {[scale.high - spare, scale.low + spare].map((value, i) => (
        <g key={i}>
          <line x1={0} x2={lanes.width} y1={toY(value, scale)} y2={toY(value, scale)} stroke="#333" />
          <text x={4} y={toY(value, scale) - 2} fontSize={10} fill="#a3a3a3" className="figures">
            {Number(value.toPrecision(4))} {unit}
          </text>
        </g>
      ))}
      {Array.from({ length: channels }, (_, c) => (
        <polyline
          key={c}
          points={samples.map(({ frame: f, values }) => `${xOf(f, lanes)},${toY(values[c]!, scale)}`).join(" ")}
          fill="none"
          stroke={channels > 1 ? COLOURS[c] : GREY}
          strokeWidth={1.4}
        />
      ))}
      <line
        x1={xOf(frame, lanes)}
        x2={xOf(frame, lanes)}
        y1={0}
        y2={HEIGHT}
        stroke="var(--color-halo)"
        strokeOpacity={0.8}
        pointerEvents="none"
      />
      {keys.flatMap((key, place) =>
        numbersOf(key.value).map((value, channel) => (
          <circle
            key={`${place} ${channel}`}
            role="button"
            aria-label={`${label} at ${key.frame}: ${Number(value.toFixed(4))} ${unit}`}
            cx={xOf(key.frame, lanes)}
            cy={toY(value, scale)}
            r={5}
            fill="#1b1b1b"
            stroke="var(--color-halo)"
            strokeWidth={1.6}
            className="cursor-move"
            {...bind({ key: key.frame, channel })}
          />
        )),
      )}
    </svg>
  );
}
