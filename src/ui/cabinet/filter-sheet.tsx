"use client";
import type { Data } from "plotly.js";
import { useState } from "react";
import type { FilterProfile } from "@/core/profile/profiles";
import { Chart, CHANNELS, line } from "./chart";

/** All that was measured of a filter. */
export function FilterSheet({ filter }: { filter: FilterProfile }) {
  const [chosen, setChosen] = useState(filter.grades[0]!.grade);
  const grade = filter.grades.find((entry) => entry.grade === chosen) ?? filter.grades[0]!;
  const decades = (values: number[]) => values.map((value) => value / Math.max(...grade.spread.green));
  return (
    <>
      <div role="group" aria-label="Grade" className="join mb-2">
        {filter.grades.map((entry) => (
          <button
            key={entry.grade}
            type="button"
            className={`btn btn-xs join-item ${entry.grade === chosen ? "btn-primary" : ""}`}
            aria-pressed={entry.grade === chosen}
            onClick={() => setChosen(entry.grade)}
          >
            {entry.grade}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-3 2xl:grid-cols-3">
        <Chart
          title="Spread"
          note={`grade ${grade.grade}`}
          origin={grade.origin}
          x={{ title: "Scatter angle (°)", logarithmic: true }}
          y={{ title: "Light per area (against the centre)", logarithmic: true }}
          traces={(["red", "green", "blue"] as const).map((channel) =>
            line(grade.spread.degrees.slice(1), decades(grade.spread[channel]).slice(1), channel, CHANNELS[channel]),
          )}
        />
        <Chart
          title="Scattered light by grade"
          x={{ title: "Grade, weakest to strongest" }}
          y={{ title: "Scattered light (%)" }}
          traces={[
            {
              type: "bar",
              x: filter.grades.map((entry) => `grade ${entry.grade}`),
              y: filter.grades.map(({ scatter }) => 100 * scatter),
              marker: { color: filter.grades.map((entry) => (entry.grade === chosen ? "#fff3dc" : "#8a8a8a")) },
              hovertemplate: "%{x}<br>%{y:.0f} %<extra></extra>",
            } as Data,
          ]}
        />
      </div>
      <p className="mt-2 text-quiet">
        Grade {grade.grade}: <span className="figures">{(100 * grade.scatter).toFixed(0)} %</span> of the light is
        scattered, <span className="figures">{(100 * grade.absorption).toFixed(0)} %</span> of that absorbed;
        transmission <span className="figures">{grade.transmissionStops.toFixed(2).replace("-", "−")} stops</span>.
      </p>
    </>
  );
}
