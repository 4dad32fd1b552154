"use client";
import { X } from "lucide-react";
import { removeMeasurement } from "./runner";
import { lackOf, type Measurement, readingShown, useSession } from "./session";
import { factsOf, nameOf } from "./words";

/** How far a measurement is, in a line. */
function stateOf(one: Measurement): { words: string; isProblem: boolean } {
  const lack = lackOf(one);
  if (lack) return { words: lack, isProblem: true };
  if (one.state === "measuring")
    return { words: one.share ? `${one.step}, ${Math.round(100 * one.share)} %` : one.step, isProblem: false };
  if (one.state === "waiting") return { words: "waits", isProblem: false };
  if (one.state === "refused") return { words: one.reason ?? "refused", isProblem: true };
  const shown = readingShown(one);
  return shown
    ? { words: factsOf(shown)[0]!, isProblem: false }
    : { words: "nothing is left of it; take an edge in again", isProblem: true };
}

/** Everything that was shot, with how far each is. */
export function MeasurementList() {
  const { measurements, chosen, choose } = useSession();
  if (!measurements.length) return null;
  return (
    <ul className="flex flex-col gap-1" aria-label="Measurements">
      {measurements.map((one) => {
        const { words, isProblem } = stateOf(one);
        const isChosen = one.id === chosen;
        return (
          <li key={one.id} className={`flex items-start rounded-md ${isChosen ? "halo" : "hover:bg-base-200"}`}>
            <button
              type="button"
              aria-pressed={isChosen}
              className="min-w-0 flex-1 px-2 py-1 text-left"
              onClick={() => choose(one.id)}
            >
              <span className="block truncate">{nameOf(one.order)}</span>
              <span className={`block truncate ${isProblem ? "text-warning" : "text-quiet"}`} title={words}>
                {words}
              </span>
              {one.state === "measuring" && (
                <progress
                  className="progress h-1 w-full"
                  aria-label="Measuring"
                  value={one.share || undefined}
                  max={1}
                />
              )}
            </button>
            <button
              type="button"
              className="btn btn-xs btn-square btn-ghost m-1"
              aria-label={`Take out ${nameOf(one.order)}`}
              onClick={() => removeMeasurement(one.id)}
            >
              <X size={12} />
            </button>
          </li>
        );
      })}
    </ul>
  );
}
