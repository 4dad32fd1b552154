"use client";
import type { Data } from "plotly.js";
import { distorted, distortionOf } from "@/core/profile/distortion";
import { streakProfile } from "@/core/elements/streak/streak";
import type { PupilMeasurement } from "@/core/measure/lamps/pupil";
import type {
  EdgesReading,
  FlatReading,
  GridReading,
  PairReading,
  PointReading,
  Reading,
  TransmissionReading,
} from "@/core/measure/readings";
import { Chart, CHANNELS, INKS, line } from "../cabinet/chart";

/** A band of two standard errors about a curve, under it. */
const band = (x: number[], low: number[], high: number[], color: string): Data[] => [
  { type: "scatter", mode: "lines", x, y: low, line: { width: 0 }, hoverinfo: "skip", showlegend: false },
  {
    type: "scatter",
    mode: "lines",
    x,
    y: high,
    line: { width: 0 },
    fill: "tonexty",
    fillcolor: `${color}33`,
    hoverinfo: "skip",
    showlegend: false,
  },
];

/** Frequencies whose contrast is drawn over the height, lp/mm. */
const DRAWN = [10, 20, 30];

function EdgeCurves({ table, errors }: EdgesReading) {
  const { heights, frequencies, sagittal, meridional } = table;
  const reach = (error: number) => 200 * error;
  const traces = DRAWN.flatMap((f, i) => {
    const column = frequencies.indexOf(f);
    if (column < 0) return [];
    return ([sagittal, meridional] as const).flatMap((rows, direction) => {
      const y = rows.map((row) => 100 * row[column]!);
      const ink = INKS[2 * i] ?? INKS.at(-1)!;
      return [
        ...band(
          heights,
          y.map((v, row) => v - reach(errors[row]![column]!)),
          y.map((v, row) => v + reach(errors[row]![column]!)),
          ink,
        ),
        line(heights, y, `${f} lp/mm ${direction ? "meridional" : "sagittal"}`, ink, direction ? "dot" : "solid"),
      ];
    });
  });
  return (
    <>
      <Chart
        title="Contrast by height"
        note={`${DRAWN.filter((f) => frequencies.includes(f)).join(", ")} lp/mm; dotted: meridional`}
        x={{ title: "Image height (mm)" }}
        y={{ title: "Contrast (%)", range: [0, 104] }}
        traces={traces}
      />
      <Chart
        title="Contrast by frequency"
        note="inmost, outermost; dotted: meridional"
        x={{ title: "Spatial frequency (lp/mm)" }}
        y={{ title: "Contrast (%)", range: [0, 104] }}
        traces={[0, heights.length - 1].flatMap((row, i) =>
          ([sagittal, meridional] as const).flatMap((rows, direction) => {
            const y = rows[row]!.map((value) => 100 * value);
            const ink = INKS[2 * i]!;
            return [
              ...band(
                frequencies,
                y.map((v, k) => v - reach(errors[row]![k]!)),
                y.map((v, k) => v + reach(errors[row]![k]!)),
                ink,
              ),
              line(
                frequencies,
                y,
                `${heights[row]} mm ${direction ? "meridional" : "sagittal"}`,
                ink,
                direction ? "dot" : "solid",
              ),
            ];
          }),
        )}
      />
    </>
  );
}

function FlatCurves({ table }: { table: FlatReading["table"] }) {
  const { heights, relative, uncertainty } = table;
  const stops = relative.map(Math.log2);
  return (
    <Chart
      title="Relative illumination"
      x={{ title: "Image height (mm)" }}
      y={{ title: "Light against the axis (stops)" }}
      traces={[
        ...band(
          heights,
          relative.map((value) => Math.log2(value * (1 - 2 * uncertainty))),
          relative.map((value) => Math.log2(value * (1 + 2 * uncertainty))),
          INKS[0]!,
        ),
        line(heights, stops, `T${table.stop}`, INKS[0]!),
      ]}
    />
  );
}

const DIRECTIONS = [
  ["across", 1, 0],
  ["down", 0, 1],
] as const;
const STEPS = 30;

function GridCurves({ distortion, lateralColour, focalLength }: GridReading) {
  const { heights, red, blue, uncertainty } = lateralColour;
  const reach = heights.at(-1) ?? 1;
  const model = distortionOf(distortion);
  const along = Array.from({ length: STEPS }, (_, i) => (reach * (i + 1)) / STEPS);
  const displaced = (height: number, x: number, y: number) => {
    const at = height / focalLength;
    return 100 * (Math.hypot(...distorted(model, 1, at * x, at * y)) / at - 1);
  };
  return (
    <>
      <Chart
        title="Distortion"
        note="across and, darker, down"
        x={{ title: "Image height (mm)" }}
        y={{ title: "Displacement (% of height)" }}
        traces={DIRECTIONS.map(([name, x, y], i) =>
          line(
            along,
            along.map((height) => displaced(height, x, y)),
            name,
            INKS[2 * i]!,
          ),
        )}
      />
      <Chart
        title="Lateral colour"
        note="against green"
        x={{ title: "Image height (mm)" }}
        y={{ title: "Displacement (µm)" }}
        traces={(
          [
            ["red", red],
            ["blue", blue],
          ] as const
        ).flatMap(([channel, values]) => [
          ...band(
            heights,
            values.map((v) => v - 2 * uncertainty),
            values.map((v) => v + 2 * uncertainty),
            CHANNELS[channel],
          ),
          line(heights, values, channel, CHANNELS[channel]),
        ])}
      />
    </>
  );
}

function PairCurves({ measured }: PairReading) {
  const { degrees, channels, uncertainty } = measured;
  const top = Math.max(...channels.green.spread);
  const scaled = (values: number[]) => values.map((value) => Math.max(value / top, 1e-9));
  const green = scaled(channels.green.spread);
  return (
    <Chart
      title="Spread"
      note="by channel; the band is green’s"
      x={{ title: "Scatter angle (°)", logarithmic: true }}
      y={{ title: "Light per area (against the centre)", logarithmic: true }}
      traces={[
        ...band(
          degrees,
          green.map((value, i) => value / 10 ** (2 * uncertainty.spread[i]!)),
          green.map((value, i) => value * 10 ** (2 * uncertainty.spread[i]!)),
          CHANNELS.green,
        ),
        ...(["red", "green", "blue"] as const).map((channel) =>
          line(degrees, scaled(channels[channel].spread), channel, CHANNELS[channel]),
        ),
      ]}
    />
  );
}

function TransmissionCurve({ table: { wavelengths, values, uncertainty } }: TransmissionReading) {
  return (
    <Chart
      title="Transmission"
      x={{ title: "Wavelength (nm)" }}
      y={{ title: "Light that comes through (%)" }}
      traces={[
        ...band(
          wavelengths,
          values.map((value) => 100 * (value - 2 * uncertainty)),
          values.map((value) => 100 * (value + 2 * uncertainty)),
          INKS[0]!,
        ),
        line(
          wavelengths,
          values.map((value) => 100 * value),
          "transmission",
          INKS[0]!,
        ),
      ]}
    />
  );
}

/** Distances along a streak that are drawn, % of the frame's width. */
const ALONG = Array.from({ length: 61 }, (_, i) => 0.8 * i);

function LampCurves({ streak, pupil }: PointReading) {
  return (
    <>
      {streak && (
        <Chart
          title="Light along the line"
          x={{ title: "Distance from the lamp (% of width)" }}
          y={{ title: "Share of light (per % of width)", logarithmic: true }}
          traces={(["red", "green", "blue"] as const).map((channel, c) =>
            line(
              ALONG,
              ALONG.map(
                (d) =>
                  ((streak.gain / 100) * streak.tint[c]! * streakProfile(d / streak.length[c]!, streak.tail)) /
                  streak.length[c]!,
              ),
              channel,
              CHANNELS[channel],
            ),
          )}
        />
      )}
      {pupil && <CatEyeCurve {...pupil} />}
    </>
  );
}

function CatEyeCurve({ catEye, uncertainty }: PupilMeasurement) {
  const heights = catEye.map((_, i) => (100 * i) / (catEye.length - 1));
  const reach = 200 * uncertainty.catEye;
  const open = catEye.map((share) => 100 * share);
  return (
    <Chart
      title="Cat’s eye"
      x={{ title: "Image height (% of the corner’s)" }}
      y={{ title: "Pupil still open (%)", range: [0, 104] }}
      traces={[
        ...band(
          heights,
          open.map((share) => share - reach),
          open.map((share) => share + reach),
          INKS[0]!,
        ),
        line(heights, open, "open", INKS[0]!),
      ]}
    />
  );
}

/** What was read of a chart, as curves with two standard errors about them. */
export function ReadingCurves({ reading }: { reading: Reading }) {
  switch (reading.kind) {
    case "edges":
      return <EdgeCurves {...reading} />;
    case "flat":
      return <FlatCurves table={reading.table} />;
    case "grid":
      return <GridCurves {...reading} />;
    case "pair":
      return <PairCurves {...reading} />;
    case "point":
      return <LampCurves {...reading} />;
    case "transmission":
      return <TransmissionCurve {...reading} />;
  }
}
