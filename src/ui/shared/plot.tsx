"use client";
import type { Data, Layout } from "plotly.js";
import { useEffect, useRef } from "react";
import type { Response, Trace } from "@/core/elements/definition";

/** ms */
const REDRAW_AFTER = 120;
const INK = "#c8c8c8";
const GRID = "#3a3a3a";
const COLOURS: Record<Trace["colour"], string> = { red: "#ff8d7a", green: "#8fd694", blue: "#8fb4ff", grey: "#e8e8e8" };

export interface Axis {
  title: string;
  logarithmic?: boolean;
  range?: [number, number];
}

/** A Plotly chart in the room's greys. Traces are Plotly's own. */
export function Plot({
  traces,
  x,
  y,
  height,
  label,
  layout = {},
}: {
  traces: Data[];
  x: Axis;
  y: Axis;
  height: number;
  label: string;
  layout?: Partial<Layout>;
}) {
  const place = useRef<HTMLDivElement>(null);
  const drawn = useRef(false);
  useEffect(() => {
    const node = place.current;
    if (!node) return;
    let gone = false;
    const axis = ({ title, logarithmic, range }: Axis) => ({
      title: { text: title, font: { size: 11 }, standoff: 6 },
      type: logarithmic ? ("log" as const) : ("linear" as const),
      gridcolor: GRID,
      zerolinecolor: "#555",
      linecolor: GRID,
      tickfont: { size: 10 },
      automargin: true,
      nticks: 6,
      fixedrange: true,
      ...(logarithmic ? { dtick: 1, exponentformat: "power" as const } : {}),
      ...(range ? { range } : {}),
    });
    // Drawn when its data rest: while a control moves, the picture comes first.
    const draw = () =>
      void import("plotly.js-basic-dist-min").then(({ default: Plotly }) => {
        if (gone) return;
        drawn.current = true;
        void Plotly.react(
          node,
          traces,
          {
            height,
            margin: { l: 48, r: 10, t: 8, b: 38 },
            paper_bgcolor: "transparent",
            plot_bgcolor: "transparent",
            showlegend: false,
            font: { family: "Archivo Variable, sans-serif", color: INK, size: 11 },
            xaxis: axis(x),
            yaxis: axis(y),
            hovermode: "closest",
            ...layout,
          },
          { displayModeBar: false, responsive: true },
        );
      });
    const timer = setTimeout(draw, drawn.current ? REDRAW_AFTER : 0);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  });
  useEffect(() => {
    const node = place.current;
    return () => {
      if (node) void import("plotly.js-basic-dist-min").then(({ default: Plotly }) => Plotly.purge(node));
    };
  }, []);
  return <div ref={place} role="img" aria-label={label} style={{ height }} />;
}

const RANGE_DECADES = 6;
/** An upright title longer than this, in characters, goes on two lines. */
const LONGEST_UPRIGHT = 24;

/** An element's response: measured dashed, applied solid. */
export function ResponsePlot({ response, height }: { response: Response; height: number }) {
  const { x, y, traces, title } = response;
  const all = traces
    .flatMap((trace) => trace.y)
    .filter((value) => Number.isFinite(value) && (!y.logarithmic || value > 0));
  const top = Math.max(...all);
  const data: Data[] = traces.map((trace) => ({
    type: "scatter",
    mode: "lines",
    name: trace.name,
    x: trace.x,
    y: trace.y,
    hovertemplate: `%{x:.3g} ${x.unit}<br>%{y:.3g} ${y.unit}<extra>${trace.name}</extra>`,
    line: {
      color: COLOURS[trace.colour],
      width: trace.kind === "applied" ? 1.8 : 1.2,
      dash: trace.kind === "applied" ? "solid" : "dot",
    },
    opacity: trace.kind === "applied" ? 1 : 0.65,
  }));
  const range =
    y.logarithmic && all.length
      ? ([Math.max(Math.log10(top) - RANGE_DECADES, Math.log10(Math.min(...all))) - 0.1, Math.log10(top) + 0.3] as [
          number,
          number,
        ])
      : undefined;
  const unit = (axis: Response["x"]) => `${axis.label}${axis.unit ? ` (${axis.unit})` : ""}`;
  const upright = unit(y).length > LONGEST_UPRIGHT ? unit(y).replace(" (", "<br>(") : unit(y);
  return (
    <figure className="min-w-0">
      <figcaption className="flex justify-between px-1 text-quiet">
        <span>{title}</span>
        <span aria-hidden>
          ┈ measured <span className="text-base-content">— applied</span>
        </span>
      </figcaption>
      <Plot
        traces={data}
        x={{ title: unit(x), logarithmic: x.logarithmic }}
        y={{ title: upright, logarithmic: y.logarithmic, range }}
        height={height}
        label={`${title}, measured and applied`}
      />
      {response.note && <p className="px-1 text-quiet">{response.note}</p>}
    </figure>
  );
}
