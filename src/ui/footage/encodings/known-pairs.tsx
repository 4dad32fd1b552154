"use client";
import { Trash2 } from "lucide-react";
import { type Control, useFieldArray, type UseFormRegister, useWatch } from "react-hook-form";
import type { LogEncoding } from "@/core/colour/own-encoding";
import type { Transfer } from "@/core/colour/transfer/transfer";
import { MAX_CODE } from "./curve-plot";
import type { Draft } from "./draft";

/** A curve may be off a known code by this much, of 1023, before it is marked. */
const TOLERANCE = 1;

const signed = (value: number) => `${value >= 0 ? "+" : "−"}${Math.abs(value).toFixed(1)}`;

/** What the curve makes of a known reflectance, and how far that is from the known code. */
function Given({ curve, pair }: { curve: Transfer | null; pair: Draft["pairs"][number] }) {
  const isKnown = pair.reflectance.trim() !== "" && Number.isFinite(Number(pair.reflectance));
  if (!curve || !isKnown) return <td className="figures">—</td>;
  const given = curve.toCode(Number(pair.reflectance) / 100) * MAX_CODE;
  const off = pair.code.trim() === "" ? NaN : given - Number(pair.code);
  return (
    <td className={`figures whitespace-nowrap ${Math.abs(off) > TOLERANCE ? "text-warning" : ""}`}>
      {given.toFixed(1)}
      {Number.isFinite(off) ? ` (${signed(off)})` : ""}
    </td>
  );
}

/** Pairs of reflectance and code that are known of an encoding, to check its curve by. */
export function KnownPairs({
  control,
  register,
  curve,
}: {
  control: Control<Draft, unknown, LogEncoding>;
  register: UseFormRegister<Draft>;
  curve: Transfer | null;
}) {
  const { fields, append, remove } = useFieldArray({ control, name: "pairs" });
  const pairs = useWatch({ control, name: "pairs" });
  return (
    <table className="table-sm table">
      <thead>
        <tr>
          <th>Reflectance (%)</th>
          <th>Code (10 bits)</th>
          <th>The curve gives</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {fields.map(({ id }, i) => (
          <tr key={id}>
            <td>
              <input
                className="input input-xs figures w-20"
                aria-label={`Reflectance of pair ${i + 1}, %`}
                inputMode="decimal"
                {...register(`pairs.${i}.reflectance`)}
              />
            </td>
            <td>
              <input
                className="input input-xs figures w-20"
                aria-label={`Code of pair ${i + 1}`}
                inputMode="decimal"
                {...register(`pairs.${i}.code`)}
              />
            </td>
            <Given curve={curve} pair={pairs[i] ?? { code: "", reflectance: "" }} />
            <td>
              <button
                type="button"
                className="btn btn-xs btn-square"
                aria-label={`Remove pair ${i + 1}`}
                onClick={() => remove(i)}
              >
                <Trash2 size={11} />
              </button>
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr>
          <td colSpan={4}>
            <button type="button" className="btn btn-xs" onClick={() => append({ code: "", reflectance: "" })}>
              Add a pair
            </button>
          </td>
        </tr>
      </tfoot>
    </table>
  );
}
