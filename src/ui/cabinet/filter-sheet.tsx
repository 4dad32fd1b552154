"use client";
import type { Data } from "plotly.js";
import { useState } from "react";
import type { FilterProfile } from "@/core/profile/profiles";
import { Chart, CHANNELS, type ChartSpec, laidOver, line } from "./chart";

type Grade = FilterProfile["grades"][number];

const spreadChart = ({ grade, spread, origin, uncertainty }: Grade): ChartSpec => {
  const brightest = Math.max(...spread.green);
  return {
    title: "Spread",
    note: `grade ${grade}`,
    origin,
    uncertainty,
    x: { title: "Scatter angle (°)", logarithmic: true },
    y: { title: "Light per area (against the centre)", logarithmic: true },
    traces: (["red", "green", "blue"] as const).map((channel) =>
      line(
        spread.degrees.slice(1),
        spread[channel].slice(1).map((value) => value / brightest),
        channel,
        CHANNELS[channel],
      ),
    ),
  };
};

const gradeOf = ({ grades }: FilterProfile, name: string): Grade =>
  grades.find(({ grade }) => grade === name) ?? grades[0]!;

/** All that was measured of a filter, with others laid over it. */
export function FilterSheet({ filter, others = [] }: { filter: FilterProfile; others?: readonly FilterProfile[] }) {
  const [chosen, setChosen] = useState(filter.grades[0]!.grade);
  const grade = gradeOf(filter, chosen);
  const [spread] = laidOver(
    [spreadChart(grade)],
    others.map((other) => [spreadChart(gradeOf(other, grade.grade))]),
  );
  return (
    <>
      <div role="group" aria-label="Grade" className="join mb-2">
        {filter.grades.map((entry) => (
          <button
            key={entry.grade}
            type="button"
            className={`btn btn-xs join-item ${entry.grade === grade.grade ? "btn-primary" : ""}`}
            aria-pressed={entry.grade === grade.grade}
            onClick={() => setChosen(entry.grade)}
          >
            {entry.grade}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-3 2xl:grid-cols-3">
        <Chart {...spread!} />
        <Chart
          title="Scattered light by grade"
          x={{ title: "Grade, weakest to strongest" }}
          y={{ title: "Scattered light (%)" }}
          traces={[
            {
              type: "bar",
              x: filter.grades.map((entry) => `grade ${entry.grade}`),
              y: filter.grades.map(({ scatter }) => 100 * scatter),
              marker: { color: filter.grades.map((entry) => (entry.grade === grade.grade ? "#fff3dc" : "#8a8a8a")) },
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
