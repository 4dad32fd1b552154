"use client";
import { X } from "lucide-react";
import { NumberInput } from "../../shared/number-input";
import { FieldRow, FocalLengthField, StopField } from "../fields";
import type { CurveRead } from "./read-curves";
import { type DraftCurve, usePrinted } from "./session";

const QUANTITY_WORDS: Record<DraftCurve["quantity"], string> = {
  contrast: "Contrast",
  illumination: "Illumination",
  distortion: "Distortion",
  transmission: "Transmission",
};

/** What a curve is called in the list. */
function nameOf({ quantity, direction, frequency, stop }: DraftCurve): string {
  if (quantity === "contrast") return `${frequency} lp/mm, ${direction}${stop ? `, T${stop}` : ""}`;
  return `${QUANTITY_WORDS[quantity]}${quantity === "illumination" && stop ? `, T${stop}` : ""}`;
}

const stateOf = (curve: DraftCurve, read: CurveRead | null): string => {
  if (!read) return "point at its line";
  if ("problem" in read) return read.problem;
  const { x, y } = read.read;
  const ends = `${x[0]!.toPrecision(3)} to ${x.at(-1)!.toPrecision(3)}`;
  return `${curve.from ? "followed" : "by points"}, ${ends}: ${y[0]!.toPrecision(3)} to ${y.at(-1)!.toPrecision(3)}`;
};

/** What the chosen curve shows. */
function CurveFields({ curve }: { curve: DraftCurve }) {
  const change = usePrinted((session) => session.changeCurve);
  const put = (to: Partial<DraftCurve>) => change(curve.id, to);
  return (
    <div className="flex flex-col gap-1.5">
      <FieldRow name="It shows">
        <select
          className="select select-xs w-full"
          value={curve.quantity}
          onChange={({ target: { value } }) => put({ quantity: value as DraftCurve["quantity"] })}
        >
          {(Object.keys(QUANTITY_WORDS) as DraftCurve["quantity"][]).map((quantity) => (
            <option key={quantity} value={quantity}>
              {QUANTITY_WORDS[quantity]}
            </option>
          ))}
        </select>
      </FieldRow>
      {curve.quantity === "contrast" && (
        <>
          <FieldRow name="Direction">
            <select
              className="select select-xs w-full"
              value={curve.direction}
              onChange={({ target: { value } }) => put({ direction: value as DraftCurve["direction"] })}
            >
              <option value="sagittal">Sagittal</option>
              <option value="meridional">Meridional</option>
            </select>
          </FieldRow>
          <FieldRow name="Frequency">
            <NumberInput
              label="Frequency"
              value={curve.frequency}
              min={0.1}
              max={2000}
              step={1}
              unit="lp/mm"
              onSave={(value) => value && put({ frequency: value })}
            />
          </FieldRow>
        </>
      )}
      {curve.quantity !== "transmission" && (
        <FocalLengthField value={curve.focalLength} onSave={(focalLength) => put({ focalLength })} />
      )}
      {(curve.quantity === "contrast" || curve.quantity === "illumination") && (
        <StopField value={curve.stop} onSave={(stop) => put({ stop })} />
      )}
      <FieldRow name="Upright axis in">
        <select
          className="select select-xs w-full"
          value={curve.unit ?? ""}
          onChange={({ target: { value } }) => put({ unit: (value || undefined) as DraftCurve["unit"] })}
        >
          <option value="">As its values suggest</option>
          <option value="%">%</option>
          <option value="share">Shares of 1</option>
          <option value="stops">Stops</option>
        </select>
      </FieldRow>
    </div>
  );
}

/** The curves of a page: what each shows, and how far it is followed. */
export function CurveList({
  read,
  isPointing,
  onPoint,
}: {
  read: readonly (CurveRead | null)[];
  isPointing: boolean;
  onPoint(isPointing: boolean): void;
}) {
  const { curves, chosen, choose, addCurve, removeCurve } = usePrinted();
  return (
    <div className="flex flex-col gap-2">
      <ul className="flex flex-col gap-1" aria-label="Curves">
        {curves.map((curve, i) => {
          const isChosen = curve.id === chosen;
          const state = stateOf(curve, read[i] ?? null);
          return (
            <li key={curve.id} className={`rounded-md ${isChosen ? "halo" : "hover:bg-base-200"}`}>
              <div className="flex items-start">
                <button
                  type="button"
                  aria-pressed={isChosen}
                  className="min-w-0 flex-1 px-2 py-1 text-left"
                  onClick={() => choose(curve.id)}
                >
                  <span className="block truncate">{nameOf(curve)}</span>
                  <span className="block truncate text-quiet" title={state}>
                    {state}
                  </span>
                </button>
                <button
                  type="button"
                  className="btn btn-xs btn-square btn-ghost m-1"
                  aria-label={`Take out ${nameOf(curve)}`}
                  onClick={() => removeCurve(curve.id)}
                >
                  <X size={12} />
                </button>
              </div>
              {isChosen && (
                <div className="flex flex-col gap-2 p-2 pt-0">
                  <CurveFields curve={curve} />
                  <button
                    type="button"
                    className={`btn btn-xs ${isPointing ? "btn-primary" : ""}`}
                    aria-pressed={isPointing}
                    onClick={() => onPoint(!isPointing)}
                  >
                    {isPointing ? "Press on its line" : "Point at its line"}
                  </button>
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <button
        type="button"
        className="btn btn-xs self-start"
        onClick={() => {
          addCurve();
          onPoint(true);
        }}
      >
        Add a curve
      </button>
    </div>
  );
}
