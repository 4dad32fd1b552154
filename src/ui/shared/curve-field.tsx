"use client";
import { type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import type { CurveAxis } from "@/core/elements/definition";
import { type CurvePoints, curveThrough, FEWEST_POINTS, MIN_APART, MAX_POINTS } from "@/core/maths/curve";
import { useDragOver } from "./drag";

/** Of the drawing, in its own units; it is shown as wide as there is room. */
const WIDTH = 320;
const HEIGHT = 170;
const LEFT = 30;
const BELOW = 26;
/** Room at the other two sides, so that points there are whole. */
const EDGE = 8;
const STEPS = 120;
/** Moved by an arrow key, in the axes' unit, and with Shift. */
const STEP = 0.05;
const FAR = 0.5;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

interface Props {
  label: string;
  x: CurveAxis;
  y: CurveAxis;
  points: CurvePoints;
  reset: CurvePoints;
  presets?: readonly { name: string; points: CurvePoints }[];
  colour?: string;
  beside?: ReactNode;
  onChange(points: CurvePoints): void;
}

const round = (value: number) => Number(value.toFixed(3));
const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/**
 * A curve drawn by hand: points are dragged, added by a double press, taken away by Delete, moved by arrow keys, or
 * typed.
 */
export function CurveField({ label, x, y, points, reset, presets, colour = "#e8e8e8", beside, onChange }: Props) {
  const drawing = useRef<SVGSVGElement>(null);
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, points.length - 1);
  const toX = (value: number) => LEFT + ((value - x.min) / (x.max - x.min)) * (WIDTH - LEFT - EDGE);
  const toY = (value: number) => HEIGHT - BELOW - ((value - y.min) / (y.max - y.min)) * (HEIGHT - BELOW - EDGE);
  const under = (event: { clientX: number; clientY: number }): [number, number] => {
    const box = drawing.current!.getBoundingClientRect();
    const [px, py] = [
      ((event.clientX - box.left) / box.width) * WIDTH,
      ((event.clientY - box.top) / box.height) * HEIGHT,
    ];
    return [
      x.min + ((px - LEFT) / (WIDTH - LEFT - EDGE)) * (x.max - x.min),
      y.min + ((HEIGHT - BELOW - py) / (HEIGHT - BELOW - EDGE)) * (y.max - y.min),
    ];
  };
  const put = (i: number, [px, py]: readonly [number, number]) => {
    const low = i > 0 ? points[i - 1]![0] + MIN_APART : x.min;
    const high = i < points.length - 1 ? points[i + 1]![0] - MIN_APART : x.max;
    const moved = [round(clamp(px, low, high)), round(clamp(py, y.min, y.max))] as const;
    onChange(points.map((point, k) => (k === i ? moved : point)));
  };
  const remove = (i: number) => {
    if (points.length <= FEWEST_POINTS) return;
    onChange(points.filter((_, k) => k !== i));
    setChosen(Math.max(0, i - 1));
  };
  const add = (event: React.MouseEvent) => {
    const [px] = under(event);
    const after = points.findIndex(([other]) => other > px);
    const index = after < 0 ? points.length : after;
    const isNear = points.some(([other]) => Math.abs(other - px) < 4 * MIN_APART);
    if (points.length >= MAX_POINTS || isNear || px < x.min || px > x.max) return;
    const added = [round(px), round(clamp(curveThrough(points)(px), y.min, y.max))] as const;
    onChange([...points.slice(0, index), added, ...points.slice(index)]);
    setChosen(index);
  };
  const bind = useDragOver(drawing, {
    press: (i: number) => {
      setChosen(i);
      return i;
    },
    move: (i, _, event) => put(i, under(event)),
  });
  const onKeyDown = (event: KeyboardEvent, i: number) => {
    const way = ARROWS[event.key];
    if (event.key !== "Delete" && event.key !== "Backspace" && !way) return;
    event.preventDefault();
    event.stopPropagation();
    if (!way) return remove(i);
    const by = event.shiftKey ? FAR : STEP;
    put(i, [points[i]![0] + way[0] * by, points[i]![1] + way[1] * by]);
  };
  const curve = curveThrough(points);
  const line = Array.from({ length: STEPS + 1 }, (_, i) => {
    const value = x.min + ((x.max - x.min) * i) / STEPS;
    return `${toX(value).toFixed(1)},${toY(clamp(curve(value), y.min, y.max)).toFixed(1)}`;
  });
  const ticks = ({ min, max }: CurveAxis) =>
    Array.from({ length: 5 }, (_, i) => Math.round(min + ((max - min) * i) / 4));
  const typed = (axis: 0 | 1) => (
    <input
      type="number"
      className="figures w-16 rounded bg-base-300 px-1 text-right"
      aria-label={`${label}, point ${at + 1}, ${axis ? y.label : x.label} (${axis ? y.unit : x.unit})`}
      step={STEP}
      value={points[at]![axis]}
      onChange={({ target }) =>
        Number.isFinite(target.valueAsNumber) &&
        put(at, axis ? [points[at]![0], target.valueAsNumber] : [target.valueAsNumber, points[at]![1]])
      }
    />
  );
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="sr-only">{label}</legend>
      <div className="flex items-center gap-2">
        <span className="truncate" onDoubleClick={() => onChange(reset)}>
          {label}
        </span>
        <select
          className="select select-xs ml-auto w-40"
          aria-label={`${label}: begin from`}
          value=""
          onChange={(event) => onChange(presets![Number(event.target.value)]!.points)}
          hidden={!presets}
        >
          <option value="">Begin from …</option>
          {presets?.map(({ name }, i) => (
            <option key={name} value={i}>
              {name}
            </option>
          ))}
        </select>
        {!presets && (
          <button type="button" className="btn btn-xs ml-auto" onClick={() => onChange(reset)}>
            Reset
          </button>
        )}
        {beside}
      </div>
      <svg
        ref={drawing}
        role="group"
        aria-label={`${label}: points of the curve`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full touch-none rounded bg-base-100 select-none"
        onDoubleClick={add}
      >
        {ticks(x).map((value) => (
          <g key={value}>
            <line x1={toX(value)} x2={toX(value)} y1={EDGE} y2={HEIGHT - BELOW} stroke="#333" />
            <text x={toX(value)} y={HEIGHT - 12} fontSize={9} textAnchor="middle" fill="#a3a3a3">
              {value}
            </text>
          </g>
        ))}
        {ticks(y).map((value) => (
          <g key={value}>
            <line x1={LEFT} x2={WIDTH - EDGE} y1={toY(value)} y2={toY(value)} stroke="#333" />
            <text x={LEFT - 9} y={toY(value) + 3} fontSize={9} textAnchor="end" fill="#a3a3a3">
              {value}
            </text>
          </g>
        ))}
        <text x={(LEFT + WIDTH) / 2} y={HEIGHT - 2} fontSize={9} textAnchor="middle" fill="#a3a3a3">
          {x.label} ({x.unit})
        </text>
        <line x1={toX(x.min)} y1={toY(x.min)} x2={toX(x.max)} y2={toY(x.max)} stroke="#6a6a6a" strokeDasharray="2 3" />
        <polyline points={line.join(" ")} fill="none" stroke={colour} strokeWidth={1.6} />
        {points.map(([px, py], i) => (
          <circle
            key={i}
            role="button"
            tabIndex={0}
            aria-label={`${label}, point ${i + 1}: ${px} to ${py}`}
            aria-pressed={i === at}
            cx={toX(px)}
            cy={toY(py)}
            r={5}
            fill={i === at ? "var(--color-halo)" : "#1b1b1b"}
            stroke="var(--color-halo)"
            strokeWidth={1.5}
            className="cursor-move outline-offset-2"
            onFocus={() => setChosen(i)}
            onKeyDown={(event) => onKeyDown(event, i)}
            onDoubleClick={(event) => event.stopPropagation()}
            {...bind(i)}
          />
        ))}
      </svg>
      <div className="flex items-center gap-1 text-quiet">
        <span className="whitespace-nowrap">Point {at + 1}</span>
        {typed(0)} to {typed(1)}
        <span className="truncate" title={y.unit}>
          {y.unit}
        </span>
      </div>
    </fieldset>
  );
}
