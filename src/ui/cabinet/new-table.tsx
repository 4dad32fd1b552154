"use client";
import { useState } from "react";
import type { LensProfile } from "@/core/profile/profiles";
import { ADDABLE, type Addable, newSheet, withFrequency, withoutFrequency } from "@/core/profile/sheets/new-sheet";
import { type Sheet, sheetsOf } from "@/core/profile/sheets/sheets";
import { NumberInput } from "../shared/number-input";

/** Half the diagonal of the usual sensor, mm: what a new table reaches to where the lens has no image circle. */
const DEFAULT_CORNER = 14.3;

/** A table that the lens does not have: of a kind, at a focal length and a stop. */
export function NewTable({ lens, onAdd }: { lens: LensProfile; onAdd(sheet: Sheet): void }) {
  const [kind, setKind] = useState<Addable>("sagittal");
  const [focalLength, setFocalLength] = useState(lens.focalLengths?.[0] ?? 50);
  const [stop, setStop] = useState(lens.stops?.[0] ?? 2.8);
  const { isOfFocalLength, isOfStop } = ADDABLE[kind];
  const added = newSheet(kind, focalLength, stop, lens.imageCircle ? lens.imageCircle / 2 : DEFAULT_CORNER);
  const isThere = sheetsOf(lens).some(({ id }) => id === added.id);
  return (
    <div className="flex flex-wrap items-center gap-2">
      <select
        className="select select-xs w-48"
        aria-label="Kind of table"
        value={kind}
        onChange={({ target: { value } }) => setKind(value as Addable)}
      >
        {(Object.keys(ADDABLE) as Addable[]).map((one) => (
          <option key={one} value={one}>
            {ADDABLE[one].label}
          </option>
        ))}
      </select>
      {isOfFocalLength && (
        <NumberInput
          label="Focal length of the table"
          value={focalLength}
          min={1}
          max={5000}
          step={0.1}
          unit="mm"
          onSave={(value) => value && setFocalLength(value)}
        />
      )}
      {isOfStop && (
        <NumberInput
          label="Stop of the table"
          value={stop}
          min={0.5}
          max={128}
          step={0.1}
          unit="T"
          onSave={(value) => value && setStop(value)}
        />
      )}
      <button type="button" className="btn btn-xs" disabled={isThere} onClick={() => onAdd(added)}>
        Add the table
      </button>
      {isThere && <span className="text-quiet">It is there already.</span>}
    </div>
  );
}

/** The frequencies of a table of contrast: one more, or one less. */
export function Frequencies({ sheet, onSheet }: { sheet: Sheet; onSheet(sheet: Sheet): void }) {
  const [frequency, setFrequency] = useState(50);
  const isThere = withFrequency(sheet, frequency) === sheet;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <NumberInput
        label="Frequency"
        value={frequency}
        min={1}
        max={500}
        step={1}
        unit="lp/mm"
        onSave={(value) => value && setFrequency(value)}
      />
      <button
        type="button"
        className="btn btn-xs"
        disabled={isThere}
        onClick={() => onSheet(withFrequency(sheet, frequency))}
      >
        Add the frequency
      </button>
      <button
        type="button"
        className="btn btn-xs"
        disabled={!isThere || sheet.columns.length <= 2}
        onClick={() => onSheet(withoutFrequency(sheet, frequency))}
      >
        Take it out
      </button>
    </div>
  );
}
