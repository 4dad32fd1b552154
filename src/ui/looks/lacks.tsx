"use client";
import { type Lack, lackText } from "@/core/look/lacking";
import type { Look } from "@/core/look/look";

/** What stands in for a lack, by the place of the lack in its list: a value, or null for doing without. */
export type Substitutes = Readonly<Record<number, string | null>>;

/** What a look lacks here, each with what may stand in for it. */
export function Lacks({
  look,
  lacks,
  standIns,
  onStandIns,
}: {
  look: Look;
  lacks: readonly Lack[];
  standIns: Substitutes;
  onStandIns(standIns: Substitutes): void;
}) {
  return lacks.map((lack, i) => (
    <div key={lackText(lack, look)} className="border-l-2 border-warning pl-2">
      <p className="text-warning">{lackText(lack, look)}</p>
      {lack.what !== "depth" && (
        <select
          className="select select-xs w-full"
          aria-label={`In place of ${lack.named}`}
          value={(i in standIns ? standIns[i] : lack.standIns[0]?.value) ?? ""}
          onChange={(event) => onStandIns({ ...standIns, [i]: event.target.value || null })}
        >
          {lack.standIns.map(({ value, name }) => (
            <option key={value} value={value}>
              {name} in its place
            </option>
          ))}
          <option value="">Do without</option>
        </select>
      )}
    </div>
  ));
}
