"use client";
import { NumberInput } from "../shared/number-input";
import { useProductions } from "../shared/production";
import { SensorSelect } from "../shared/sensor-select";
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
  return (
    <>
      <label className={row}>
        <span>Sensor</span>
        <SensorSelect
          width={width}
          height={height}
          onChange={(sensor) => save({ sensorWidth: sensor.width, sensorHeight: sensor.height })}
        />
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

/** The production that shots are in, where there are several. */
export function ProductionRow({ shots, save }: { shots: Shot[]; save(change: ShotChange): void }) {
  const { all } = useProductions();
  const current = common(shots, ({ production }) => production.id);
  const open = all.filter(({ archived, id }) => !archived || id === current);
  if (open.length < 2) return null;
  return (
    <label className={row}>
      <span>Production</span>
      <select
        className="select select-xs w-full"
        value={current ?? ""}
        onChange={({ target }) => save({ productionId: target.value })}
      >
        {open.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
