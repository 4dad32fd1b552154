"use client";
import type { Data } from "plotly.js";
import type { LensProfile } from "@/core/profile/profiles";
import { type Axis, Plot } from "../shared/plot";

export const INKS = ["#f0f0f0", "#c4c4c4", "#9c9c9c", "#7c7c7c", "#666666", "#555555"];

export const CHANNELS = { red: "#ff8d7a", green: "#8fd694", blue: "#8fb4ff" } as const;
/** A curve of a chart. */
export const line = (x: number[], y: number[], name: string, color: string, dash: "solid" | "dot" = "solid"): Data => ({
  type: "scatter",
  mode: "lines",
  x,
  y,
  name,
  line: { color, width: 1.6, dash },
  hovertemplate: `%{x:.3g}<br>%{y:.3g}<extra>${name}</extra>`,
});

/** A titled chart of a data sheet. */
export interface ChartSpec {
  title: string;
  note?: string;
  traces: Data[];
  x: Axis;
  y: Axis;
  origin?: LensProfile["origin"];
  /** As the table says it: a number in the table's own unit, or words. */
  uncertainty?: LensProfile["uncertainty"];
}

/** Charts of a profile with those of others laid over them, broken and dimmer; by their titles. */
export const laidOver = (own: readonly ChartSpec[], others: readonly (readonly ChartSpec[])[]): ChartSpec[] =>
  own.map((chart) => ({
    ...chart,
    traces: [
      ...others
        .flatMap((charts) => charts.filter(({ title }) => title === chart.title))
        .flatMap(({ traces }) => traces)
        .map(
          (trace) => ({ ...trace, line: { ...(trace as { line?: object }).line, dash: "dash" }, opacity: 0.6 }) as Data,
        ),
      ...chart.traces,
    ],
  }));

const originText = (origin: LensProfile["origin"]) =>
  typeof origin === "string"
    ? origin
    : origin && [origin.kind, origin.how, origin.by && `by ${origin.by}`, origin.when].filter(Boolean).join(", ");

export function Chart({ title, note, traces, x, y, origin, uncertainty }: ChartSpec) {
  const sure = uncertainty === undefined ? "" : `; uncertainty ${uncertainty}`;
  const from = originText(origin) && `${originText(origin)}${sure}`;
  return (
    <figure className="min-w-0 rounded-md border border-line bg-base-200 p-2">
      <figcaption className="flex items-baseline gap-2 px-1">
        <span className="font-semibold whitespace-nowrap">{title}</span>
        <span className="truncate text-quiet">{note}</span>
      </figcaption>
      <Plot traces={traces} x={x} y={y} height={206} label={title} />
      {from && (
        <p className="truncate px-1 text-quiet" title={from}>
          Origin: {from}
        </p>
      )}
    </figure>
  );
}
