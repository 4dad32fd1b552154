"use client";
import type { Data, Layout } from "plotly.js";
import { useEffect, useRef } from "react";
import type { Response, Trace } from "@/core/elements/definition";
import { useDragOver } from "./drag";

/** ms */
const REDRAW_AFTER = 120;
const INK = "#c8c8c8";
const GRID = "#3a3a3a";
const COLOURS: Record<Trace["colour"], string> = { red: "#ff8d7a", green: "#8fd694", blue: "#8fb4ff", grey: "#e8e8e8" };

/** Room around the axes, px: at least this, and exactly that where grips lie over them. */
const MARGIN = { l: 48, r: 10, t: 8, b: 38 };
const GRIPPED_MARGIN = { l: 58, r: 10, t: 8, b: 38 };

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
  grips = [],
}: {
  traces: Data[];
  x: Axis;
  y: Axis;
  height: number;
  label: string;
  layout?: Partial<Layout>;
  /** Places on the plot that are dragged, and moved by arrow keys; both axes are linear then, and have their ranges. */
  grips?: readonly PlotGrip[];
}) {
  const drawing = useRef<HTMLDivElement>(null);
  const drawn = useRef(false);
  useEffect(() => {
    const node = drawing.current;
    if (!node) return;
    let gone = false;
    const axis = ({ title, logarithmic, range }: Axis) => ({
      title: { text: title, font: { size: 11 }, standoff: 6 },
      type: logarithmic ? ("log" as const) : ("linear" as const),
      gridcolor: GRID,
      zerolinecolor: "#555",
      linecolor: GRID,
      tickfont: { size: 10 },
      automargin: !grips.length,
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
            margin: grips.length ? GRIPPED_MARGIN : MARGIN,
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
    const node = drawing.current;
    return () => {
      if (node) void import("plotly.js-basic-dist-min").then(({ default: Plotly }) => Plotly.purge(node));
    };
  }, []);
  return (
    <div className="relative">
      <div ref={drawing} role="img" aria-label={label} style={{ height }} />
      {grips.length > 0 && <Grips grips={grips} x={x.range!} y={y.range!} />}
    </div>
  );
}

/** A place on a plot that is dragged. */
export interface PlotGrip {
  label: string;
  x: number;
  y: number;
  onMove(x: number, y: number): void;
}

/** Moved by an arrow key, px, and with Shift. */
const NUDGE = 1;
const FAR_NUDGE = 10;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

type Range = readonly [number, number];
const shareOf = (value: number, [from, to]: Range) => (value - from) / (to - from);
const valueAt = (share: number, [from, to]: Range) => from + share * (to - from);

/** The grips of a plot, in a drawing that covers its axes. */
function Grips({ grips, x, y }: { grips: readonly PlotGrip[]; x: Range; y: Range }) {
  const drawing = useRef<SVGSVGElement>(null);
  const put = (i: number, px: number, py: number) => {
    const { width, height } = drawing.current!.getBoundingClientRect();
    grips[i]!.onMove(valueAt(px / width, x), valueAt(1 - py / height, y));
  };
  const nudge = (i: number, across: number, down: number) => {
    const { width, height } = drawing.current!.getBoundingClientRect();
    put(i, shareOf(grips[i]!.x, x) * width + across, (1 - shareOf(grips[i]!.y, y)) * height + down);
  };
  const bind = useDragOver(drawing, {
    press: (i: number) => i,
    move: (i, at) => put(i, at.x, at.y),
  });
  const { l, r, t, b } = GRIPPED_MARGIN;
  return (
    <svg
      ref={drawing}
      role="group"
      aria-label="Places on the plot"
      className="pointer-events-none absolute touch-none overflow-visible"
      style={{ left: l, top: t, width: `calc(100% - ${l + r}px)`, height: `calc(100% - ${t + b}px)` }}
    >
      {grips.map((grip, i) => (
        <circle
          key={grip.label}
          role="button"
          tabIndex={0}
          aria-label={grip.label}
          cx={`${100 * shareOf(grip.x, x)}%`}
          cy={`${100 * (1 - shareOf(grip.y, y))}%`}
          r={5}
          fill="#1b1b1b"
          stroke="var(--color-halo)"
          strokeWidth={1.6}
          className="pointer-events-auto cursor-move outline-offset-2"
          onKeyDown={(event) => {
            const way = ARROWS[event.key];
            if (!way) return;
            event.preventDefault();
            event.stopPropagation();
            const by = event.shiftKey ? FAR_NUDGE : NUDGE;
            nudge(i, way[0] * by, way[1] * by);
          }}
          {...bind(i)}
        >
          <title>{grip.label}</title>
        </circle>
      ))}
    </svg>
  );
}

const RANGE_DECADES = 6;
/** An upright title longer than this, in characters, goes on two lines. */
const MAX_UPRIGHT_LENGTH = 24;

/** Room above and below the traces of a plot with grips, share of their span. */
const Y_ROOM = 0.06;

/** From the least to the most of some values, with room on either side; never nothing. */
function spanOf(values: readonly number[], room = 0): [number, number] {
  const finite = values.filter(Number.isFinite);
  const [low, high] = [Math.min(...finite), Math.max(...finite)];
  const by = room * (high - low) || (high > low ? 0 : 1);
  return [low - by, high + by];
}

/** An element's response: measured dashed, applied solid. */
export function ResponsePlot({
  response,
  height,
  onSet,
}: {
  response: Response;
  height: number;
  /** Sets values by what is dragged on the plot; without it nothing is. */
  onSet?(values: Readonly<Record<string, number>>): void;
}) {
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
  // Grips lie by the axes' ranges: those are given, since what Plotly finds by itself is not told in time.
  const grips = onSet && !x.logarithmic && !y.logarithmic ? response.grips : undefined;
  const unit = (axis: Response["x"]) => `${axis.label}${axis.unit ? ` (${axis.unit})` : ""}`;
  const upright = unit(y).length > MAX_UPRIGHT_LENGTH ? unit(y).replace(" (", "<br>(") : unit(y);
  return (
    <figure className="min-w-0">
      <figcaption className="flex justify-between gap-2 px-1 text-quiet">
        <span>{title}</span>
        <span aria-hidden className="shrink-0">
          ┈ measured <span className="text-base-content">— applied</span>
        </span>
      </figcaption>
      <Plot
        traces={data}
        x={{ title: unit(x), logarithmic: x.logarithmic, range: grips && spanOf(traces.flatMap((t) => t.x)) }}
        y={{ title: upright, logarithmic: y.logarithmic, range: grips ? spanOf(all, Y_ROOM) : range }}
        height={height}
        label={`${title}, measured and applied`}
        grips={grips?.map(({ set, ...grip }) => ({ ...grip, onMove: (px, py) => onSet!(set(px, py)) }))}
      />
      {response.note && <p className="px-1 text-quiet">{response.note}</p>}
    </figure>
  );
}
