"use client";
import { type ReactNode, useState } from "react";
import type { ShotWith } from "@/contract/cabinet";
import { NumberInput } from "../shared/number-input";

/** What pictures of a calibration, a polynomial or a map were shot with, and changes of it. */
export function useShotWith(focalLength: number) {
  const [fields, setFields] = useState<Required<ShotWith>>({
    focalLength,
    sensor: { width: 24.9, height: 14 },
    size: { width: 1920, height: 1080 },
    inverse: false,
    unit: "focal length",
  });
  return [fields, (change: Partial<ShotWith>) => setFields((before) => ({ ...before, ...change }))] as const;
}

/** Two numbers of a size. */
function SizeInputs({
  names,
  unit,
  step,
  range: [min, max],
  size: { width, height },
  onSave,
}: {
  names: readonly [string, string];
  unit: string;
  step: number;
  range: readonly [number, number];
  size: { width: number; height: number };
  onSave(size: { width: number; height: number }): void;
}) {
  const bounds = { min, max, step };
  const whole = (value: number) => Math.round(value / step) * step;
  return (
    <>
      <NumberInput
        label={names[0]}
        value={width}
        unit="×"
        {...bounds}
        onSave={(value) => value && onSave({ width: whole(value), height })}
      />
      <NumberInput
        label={names[1]}
        value={height}
        unit={unit}
        {...bounds}
        onSave={(value) => value && onSave({ width, height: whole(value) })}
      />
    </>
  );
}

/** A word, and the fields it is of. */
const Named = ({ name, children }: { name: string; children: ReactNode }) => (
  <span className="flex flex-wrap items-center gap-1">
    <span className="text-quiet">{name}</span>
    {children}
  </span>
);

/** Fields for what is wanted of it. */
export function ShotWithInputs({
  wants,
  fields,
  onChange,
}: {
  wants: readonly (keyof ShotWith)[];
  fields: Required<ShotWith>;
  onChange(change: Partial<ShotWith>): void;
}) {
  const { focalLength, sensor, size, inverse } = fields;
  return (
    <>
      {wants.includes("focalLength") && (
        <Named name="Focal length">
          <NumberInput
            label="Focal length"
            value={focalLength}
            min={1}
            max={5000}
            step={0.1}
            unit="mm"
            onSave={(value) => value && onChange({ focalLength: value })}
          />
        </Named>
      )}
      {wants.includes("sensor") && (
        <Named name="Sensor">
          <SizeInputs
            names={["Sensor width", "Sensor height"]}
            unit="mm"
            step={0.001}
            range={[1, 200]}
            size={sensor}
            onSave={(value) => onChange({ sensor: value })}
          />
        </Named>
      )}
      {wants.includes("size") && (
        <Named name="Picture">
          <SizeInputs
            names={["Picture width", "Picture height"]}
            unit="px"
            step={1}
            range={[16, 16384]}
            size={size}
            onSave={(value) => onChange({ size: value })}
          />
        </Named>
      )}
      {wants.includes("inverse") && (
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={inverse}
            onChange={({ target: { checked } }) => onChange({ inverse: checked })}
          />
          takes the distortion off
        </label>
      )}
    </>
  );
}
