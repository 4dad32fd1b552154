"use client";
import { NumberInput } from "../shared/number-input";
import { SENSORS } from "../shared/sensors";
import type { Shot, ShotChange } from "../../contract/shots";

/** The value shots share, or undefined where they differ. */
export function common<T>(shots: Shot[], of: (shot: Shot) => T): T | undefined {
  const first = of(shots[0]!);
  return shots.every((shot) => of(shot) === first) ? first : undefined;
}

/** A label and its field. */
export const row = "grid grid-cols-[7.2rem_1fr] items-center gap-2";

/** Sensor and squeeze of shots. */
export function SensorRows({ shots, save }: { shots: Shot[]; save(change: ShotChange): void }) {
  const [width, height] = [common(shots, (shot) => shot.sensorWidth), common(shots, (shot) => shot.sensorHeight)];
  const found = SENSORS.findIndex(
    (entry) => Math.abs(entry.width - (width ?? 0)) < 0.005 && Math.abs(entry.height - (height ?? 0)) < 0.005,
  );
  return (
    <>
      <label className={row}>
        <span>Sensor</span>
        <select
          className="select select-xs w-full min-w-0 pr-7 text-ellipsis"
          value={found}
          onChange={(event) => {
            const chosen = SENSORS[Number(event.target.value)];
            if (chosen) save({ sensorWidth: chosen.width, sensorHeight: chosen.height });
          }}
        >
          <option value={-1}>Own size</option>
          {SENSORS.map((entry, i) => (
            <option key={entry.label} value={i}>
              {entry.width} × {entry.height} mm: {entry.label}
            </option>
          ))}
        </select>
      </label>
      <div className={row}>
        <span className="text-quiet">Width, height</span>
        <span className="flex items-center gap-1">
          <NumberInput
            label="Sensor width"
            value={width}
            min={1}
            max={1000}
            step={0.01}
            unit=""
            onSave={(value) => value && save({ sensorWidth: value })}
          />
          ×
          <NumberInput
            label="Sensor height"
            value={height}
            min={1}
            max={1000}
            step={0.01}
            unit="mm"
            onSave={(value) => value && save({ sensorHeight: value })}
          />
        </span>
      </div>
    </>
  );
}
