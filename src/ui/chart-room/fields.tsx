"use client";
import type { ReactNode } from "react";
import { NumberInput } from "../shared/number-input";

/** A field beside what it is called. */
export function FieldRow({ name, children }: { name: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[6.4rem_minmax(0,1fr)] items-center gap-2">
      <span>{name}</span>
      {children}
    </label>
  );
}

interface NumberProps {
  value: number | undefined;
  onSave(value: number): void;
}

export const FocalLengthField = ({ value, onSave }: NumberProps) => (
  <FieldRow name="Focal length">
    <NumberInput
      label="Focal length"
      value={value}
      min={1}
      max={5000}
      step={1}
      unit="mm"
      onSave={(to) => to && onSave(to)}
    />
  </FieldRow>
);

export const StopField = ({ value, onSave }: NumberProps) => (
  <FieldRow name="Stop">
    <NumberInput
      label="Stop"
      value={value}
      min={0.5}
      max={128}
      step={0.1}
      unit="T-stop"
      onSave={(to) => to && onSave(to)}
    />
  </FieldRow>
);
