"use client";
import { toast } from "sonner";

/** A number that is taken as its field is left; `undefined` stands for several that differ. */
export function NumberInput({
  label,
  value,
  min,
  max,
  step,
  unit,
  empty,
  onSave,
}: {
  label: string;
  value: number | null | undefined;
  min: number;
  max: number;
  step: number;
  unit: string;
  empty?: string;
  onSave(value: number | null): void;
}) {
  const text = value === undefined || value === null ? "" : String(Number(value.toFixed(4)));
  const save = (input: HTMLInputElement) => {
    if (input.value === text) return;
    if (input.value === "" && empty !== undefined) return onSave(null);
    const number = Number(input.value);
    if (input.value === "" || !(number >= min && number <= max)) {
      input.value = text;
      toast.error(`${label}: write a number from ${min} to ${max}${unit ? ` ${unit}` : ""}`);
    } else onSave(number);
  };
  return (
    <span className="flex items-center gap-1">
      <input
        key={text}
        type="number"
        className="input input-xs figures w-20 text-right"
        aria-label={label}
        min={min}
        max={max}
        step={step}
        defaultValue={text}
        placeholder={value === undefined ? "several" : empty}
        onBlur={(event) => save(event.currentTarget)}
        onKeyDown={(event) => event.key === "Enter" && save(event.currentTarget)}
      />
      {unit && <span className="text-quiet">{unit}</span>}
    </span>
  );
}
