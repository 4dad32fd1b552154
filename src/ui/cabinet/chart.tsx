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
export function Chart({
  title,
  note,
  traces,
  x,
  y,
  origin,
}: {
  title: string;
  note?: string;
  traces: Data[];
  x: Axis;
  y: Axis;
  origin?: LensProfile["origin"];
}) {
  const from = typeof origin === "string" ? origin : origin && [origin.kind, origin.how].filter(Boolean).join(", ");
  return (
    <figure className="min-w-0 rounded-md border border-line bg-base-200 p-2">
      <figcaption className="flex items-baseline gap-2 px-1">
        <span className="font-semibold">{title}</span>
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
