"use client";
import { type CSSProperties, type ReactNode, useEffect, useRef, useState } from "react";
import { digitsOf } from "@/core/maths/digits";
import { readSum } from "./sum";
import { useDragOver } from "./drag";

export interface NumberFieldProps {
  label: string;
  help?: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  step: number;
  reset: number;
  logarithmic?: boolean;
  /** Marked on the track: where the measured value stands. */
  mark?: number;
  disabled?: boolean;
  /** Beside the number: how it is timed. */
  beside?: ReactNode;
  onChange(value: number): void;
}

/** Movement of the hand from which a press on the number is a drag, and that changes it by a step, CSS px. */
const DRAG_FROM = 4;
const PX_A_STEP = 3;
/** With Shift a drag is so much finer, and an arrow key so much further. */
const FINE = 0.1;
const FAR = 10;

/** A number that is dragged sideways where it stands, or typed: a sum will do. */
function Figure({
  label,
  unit,
  value,
  min,
  max,
  step,
  disabled,
  onChange,
}: Omit<NumberFieldProps, "reset" | "beside" | "help" | "mark" | "logarithmic">) {
  const [typed, setTyped] = useState<string | null>(null);
  useEffect(() => setTyped(null), [value]);
  const input = useRef<HTMLInputElement>(null);
  const digits = digitsOf(step);
  const clamped = (v: number, by = step) =>
    Number((Math.round(Math.min(max, Math.max(min, v)) / by) * by).toFixed(digitsOf(by) + 1));
  const commit = (text: string) => {
    const number = readSum(text);
    if (Number.isFinite(number)) onChange(Math.min(max, Math.max(min, number)));
    setTyped(null);
  };
  const bind = useDragOver(input, {
    press: (_: void, { x }, event) => {
      if (document.activeElement === input.current) return null;
      event.preventDefault();
      return { x, value, moved: false };
    },
    move: (from, { x }, { shiftKey }) => {
      const way = x - from.x;
      if (Math.abs(way) > DRAG_FROM) from.moved = true;
      if (!from.moved) return;
      const by = shiftKey ? step * FINE : step;
      from.value += (way / PX_A_STEP) * by;
      from.x = x;
      onChange(clamped(from.value, by));
    },
    end: ({ moved }) => {
      if (!moved) input.current!.select();
    },
  });
  return (
    <input
      ref={input}
      className="figures w-14 cursor-ew-resize rounded bg-base-300 px-1 py-0.5 text-right focus:cursor-text disabled:opacity-50"
      inputMode="decimal"
      aria-label={`${label}, ${unit || "number"}`}
      title="Drag sideways, with Shift finely; or type, a sum if you like"
      disabled={disabled}
      value={typed ?? value.toFixed(digits)}
      {...bind()}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={(event) => typed !== null && commit(event.target.value)}
      onKeyDown={(event) => {
        // What is typed is done: it is taken as the field is left, and keys are commands again.
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setTyped(null);
        if (event.key === "ArrowUp" || event.key === "ArrowDown") {
          event.preventDefault();
          onChange(clamped(value + (event.key === "ArrowUp" ? step : -step) * (event.shiftKey ? FAR : 1)));
        }
      }}
    />
  );
}

/**
 * A number with its unit: dragged on the track or where it stands, typed, stepped by arrow keys; a double click resets
 * it.
 */
export function NumberField(props: NumberFieldProps) {
  const { label, help, unit, value, min, max, step, reset, logarithmic, mark, disabled, beside, onChange } = props;
  const digits = digitsOf(step);
  const shareOf = (v: number) => (logarithmic ? Math.log(v / min) / Math.log(max / min) : (v - min) / (max - min));
  const at = (p: number) => (logarithmic ? min * (max / min) ** p : min + p * (max - min));
  const snap = (v: number) => Number((Math.round(Math.min(max, Math.max(min, v)) / step) * step).toFixed(digits + 1));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-x-2" title={help}>
      <span className="min-w-0">
        <span className="block truncate leading-tight" onDoubleClick={() => onChange(reset)}>
          {label}
        </span>
        <span className="relative flex h-3.5 items-center">
          {mark !== undefined && mark >= min && mark <= max && (
            <span
              className="pointer-events-none absolute top-0 h-full w-px bg-halo/70"
              style={{ left: `calc(4.5px + ${shareOf(mark)} * (100% - 9px))` }}
              aria-hidden
            />
          )}
          <input
            type="range"
            className="track"
            aria-label={label}
            aria-valuetext={`${value.toFixed(digits)} ${unit}`}
            disabled={disabled}
            min={logarithmic ? 0 : min}
            max={logarithmic ? 1 : max}
            step={logarithmic ? 0.001 : step}
            value={logarithmic ? shareOf(value) : value}
            style={{ "--fill": `${100 * Math.min(1, Math.max(0, shareOf(value)))}%` } as CSSProperties}
            onChange={(event) =>
              onChange(logarithmic ? snap(at(Number(event.target.value))) : Number(event.target.value))
            }
            onDoubleClick={() => onChange(reset)}
          />
        </span>
      </span>
      <span className="flex items-center gap-1.5">
        <Figure {...{ label, unit, value, min, max, step, disabled, onChange }} />
        <span className="w-[4.6rem] truncate text-quiet" title={unit}>
          {unit}
        </span>
        {beside}
      </span>
    </div>
  );
}
