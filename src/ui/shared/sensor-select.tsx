"use client";
import { SENSORS } from "./sensors";

/** Sides that differ by less than this, mm, are one. */
const SAME = 0.005;

/** Choice of a sensor by what it measures; one of another size is an own one. */
export function SensorSelect({
  width,
  height,
  onChange,
}: {
  /** mm; undefined where several differ. */
  width: number | undefined;
  height: number | undefined;
  onChange(sensor: { width: number; height: number }): void;
}) {
  const found = SENSORS.findIndex(
    (entry) => Math.abs(entry.width - (width ?? 0)) < SAME && Math.abs(entry.height - (height ?? 0)) < SAME,
  );
  return (
    <select
      className="select select-xs w-full min-w-0 [contain:paint]"
      value={found}
      onChange={(event) => {
        const chosen = SENSORS[Number(event.target.value)];
        if (chosen) onChange({ width: chosen.width, height: chosen.height });
      }}
    >
      <option value={-1}>Own size</option>
      {SENSORS.map((entry, i) => (
        <option key={entry.label} value={i}>
          {entry.width} × {entry.height} mm: {entry.label}
        </option>
      ))}
    </select>
  );
}
