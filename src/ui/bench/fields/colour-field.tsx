"use client";
import { type ReactNode, useState } from "react";
import { chromaOf } from "@/core/colour/chroma";
import { type Colour, ColourDisc, Swatch, TemperatureStrip } from "../../shared/colour-disc";
import { PickButton } from "./pick-button";

interface Props {
  label: string;
  help: string;
  value: Colour;
  reset: Colour;
  largest: number;
  beside?: ReactNode;
  /** Names it for the pick, and the element before which light is picked. */
  id: string;
  before: string | null;
  onChange(value: [number, number, number]): void;
}

const DISC = 124;
const CHANNELS = [
  ["red", "#ff8d7a"],
  ["green", "#8fd694"],
  ["blue", "#8fb4ff"],
] as const;
const limited = (colour: Colour, largest: number) =>
  colour.map((value) => Math.min(largest, Math.max(0, value))) as [number, number, number];

/** Three numbers of a colour. */
function Numbers({ label, value, largest, onChange }: Pick<Props, "label" | "value" | "largest" | "onChange">) {
  return CHANNELS.map(([name, line], c) => (
    <input
      key={name}
      type="number"
      className="figures w-full min-w-0 rounded border-b-2 bg-base-300 px-1 py-0.5 text-right"
      style={{ borderColor: line }}
      aria-label={`${label}, ${name}`}
      min={0}
      max={largest}
      step={0.01}
      value={Number(value[c]!.toFixed(4))}
      onChange={({ target }) => {
        if (!Number.isFinite(target.valueAsNumber)) return;
        const next = [...value] as [number, number, number];
        next[c] = target.valueAsNumber;
        onChange(limited(next, largest));
      }}
    />
  ));
}

/**
 * A colour of light: by its numbers, and opened up on a disc round white, a strip of temperatures, its amount, or a
 * pick.
 */
export function ColourField({ label, help, value, reset, largest, beside, id, before, onChange }: Props) {
  const [open, setOpen] = useState(false);
  const { amount } = chromaOf(value);
  const put = (colour: Colour) => onChange(limited(colour, largest));
  // The picked chroma, as much of it as there was.
  const take = (light: Colour) => {
    const found = chromaOf(light).amount;
    if (found > 0) put(light.map((part) => (part / found) * (amount || 1)) as unknown as Colour);
  };
  return (
    <fieldset className="flex flex-col gap-1" title={help}>
      <legend className="sr-only">{label}</legend>
      <div className="grid grid-cols-[6.4rem_1fr_auto_auto] items-center gap-1.5">
        <span className="truncate" onDoubleClick={() => onChange([...reset])}>
          {label}
        </span>
        <span className="flex gap-1">
          <Numbers label={label} value={value} largest={largest} onChange={onChange} />
        </span>
        <button
          type="button"
          aria-label={`${label}: open the disc`}
          aria-expanded={open}
          className={`rounded leading-none ${open ? "halo" : ""}`}
          onClick={() => setOpen(!open)}
        >
          <Swatch colour={value} />
        </button>
        {beside}
      </div>
      {open && (
        <div className="flex items-start gap-3 rounded bg-base-100 p-2">
          <ColourDisc label={label} colour={value} size={DISC} onChange={put} />
          <div className="flex min-w-0 flex-1 flex-col gap-2">
            <TemperatureStrip label={label} colour={value} onChange={put} />
            <label className="flex flex-col gap-0.5">
              <span className="flex justify-between text-quiet">
                Amount <span className="figures">{amount.toFixed(2)}</span>
              </span>
              <input
                type="range"
                className="track"
                aria-label={`${label}, amount`}
                min={0}
                max={2}
                step={0.01}
                value={Math.min(2, amount)}
                onChange={(event) => {
                  const factor = Number(event.target.value) / (amount || 1);
                  put(amount ? (value.map((v) => v * factor) as unknown as Colour) : [factor, factor, factor]);
                }}
              />
            </label>
            <span className="flex gap-1">
              <PickButton label="Pick" id={id} before={before} take={take} />
              <button type="button" className="btn btn-xs" onClick={() => onChange([...reset])}>
                Reset
              </button>
            </span>
          </div>
        </div>
      )}
    </fieldset>
  );
}

/** Chroma at the edge of a disc of tints, which only lean. */
const TINT_REACH = 0.35;

/** Several tints side by side, each on a disc of its own. */
export function TintDiscs({
  tints,
}: {
  tints: readonly {
    name: string;
    label: string;
    help: string;
    value: Colour;
    reset: Colour;
    min: number;
    max: number;
    beside?: ReactNode;
    onChange(value: [number, number, number]): void;
  }[];
}) {
  return (
    <div className="grid grid-cols-3 gap-2">
      {tints.map(({ name, label, help, value, reset, min, max, beside, onChange }) => (
        <fieldset key={name} className="flex flex-col items-center gap-1" title={help}>
          <legend className="sr-only">{label}</legend>
          <span className="flex items-center gap-1">
            <span onDoubleClick={() => onChange([...reset])}>{label}</span>
            {beside}
          </span>
          <ColourDisc
            label={label}
            colour={value}
            size={88}
            reach={TINT_REACH}
            onChange={(colour) =>
              onChange(colour.map((v) => Math.min(max, Math.max(min, v))) as [number, number, number])
            }
          />
          <span className="flex w-20 flex-col gap-0.5">
            <Numbers label={label} value={value} largest={max} onChange={onChange} />
          </span>
        </fieldset>
      ))}
    </div>
  );
}
