"use client";
import type { Look } from "@/core/look/look";
import { type Inspect, isSame, isThere, PICTURE, TIMES } from "../view/inspect";
import { setView, useView } from "../view/store";

const CHOICES: readonly { label: string; inspect: Inspect }[] = [
  { label: "Picture", inspect: PICTURE },
  { label: "Matte of the key", inspect: { kind: "matte" } },
  { label: "Area as a matte", inspect: { kind: "area", over: false, only: null } },
  { label: "Area as a tint", inspect: { kind: "area", over: true, only: null } },
  { label: "Newly at the ends", inspect: { kind: "ends" } },
  ...TIMES.map((times) => ({
    label: times === 1 ? "Contribution" : `Contribution × ${times}`,
    inspect: { kind: "contribution", times } as const,
  })),
];

/** What the picture shows: itself, or something of the selected element. */
export function InspectField({ look }: { look: Look }) {
  const { inspect, selected } = useView("inspect", "selected");
  const at = CHOICES.findIndex((choice) => isSame(choice.inspect, inspect));
  return (
    <label title="Inspect">
      <span className="sr-only">Inspect</span>
      <select
        className={`select select-xs w-32 ${at > 0 ? "halo" : ""}`}
        value={at}
        onChange={(event) => setView({ inspect: CHOICES[Number(event.target.value)]!.inspect })}
      >
        {at < 0 && <option value={-1}>One area alone</option>}
        {CHOICES.map(({ label, inspect: choice }, i) => (
          <option key={label} value={i} disabled={!isThere(choice, look, selected)}>
            {label}
          </option>
        ))}
      </select>
    </label>
  );
}
