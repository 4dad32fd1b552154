import { firstOf } from "../../core/frame/ranges";
import { Command, Option } from "commander";
import { decodeImage } from "../../core/image/decode";
import { measureEdge } from "../../core/measure/edge";
import { measureFlat } from "../../core/measure/flat";
import { measureGrid } from "../../core/measure/grid";
import { MeasureError, type Plane } from "../../core/measure/plane";
import { measurePoint } from "../../core/measure/point";
import { guessedEncoding, guessEncoding } from "../../server/footage/guess-encoding";
import { loadFrame, openSource } from "../../server/footage/source";
import { encodingNamed } from "../encodings";
import type { DistortionTable } from "../../core/profile/distortion";
import { numberOption, regionOption, sensorOption, UsageError } from "../options";

interface Options {
  in: string;
  sensor: { width: number; height: number };
  region?: { left: number; top: number; width: number; height: number };
  inEncoding?: string;
  json?: boolean;
  /** A grid's: mm, and the model that is fitted. */
  focal: number;
  model: DistortionTable["model"];
}

/** A picture of a chart: its channels in light, mm a pixel, and where the region's middle lies. */
interface Chart {
  /** As it was said, or as it was guessed and why. */
  encoding: string;
  channels: Record<Channel, Plane>;
  pitch: number;
  left: number;
  top: number;
  /** The region's middle from the frame's, mm. */
  x: number;
  y: number;
}

type Channel = "red" | "green" | "blue";
/** Pixels are square where the two pitches agree within this share. */
const SQUARE = 0.01;

async function readChart({ in: name, sensor, region, inEncoding }: Options): Promise<Chart> {
  const source = openSource(name);
  if (!source.frames.length) throw new UsageError(`--in ${name}: there is no such file`);
  const image = await loadFrame(source, firstOf(source.frames));
  const guess = guessEncoding(image);
  if (!inEncoding && guess.isOfCodes)
    throw new UsageError(`--in-encoding: say how ${name} is encoded; it has ${guess.reason}`);
  const encoding = inEncoding ? encodingNamed("--in-encoding", inEncoding) : guessedEncoding(guess);
  const { frame } = decodeImage(image, encoding);
  const { left, top, width, height } = region ?? { left: 0, top: 0, width: frame.width, height: frame.height };
  if (!width || !height || left + width > frame.width || top + height > frame.height)
    throw new UsageError(`--region: lies outside the picture, which is ${frame.width}x${frame.height}`);
  const [pitch, down] = [sensor.width / frame.width, sensor.height / frame.height];
  if (Math.abs(down / pitch - 1) > SQUARE)
    throw new UsageError(
      `--sensor ${sensor.width}x${sensor.height}: does not have the shape of the picture, which is ${frame.width}x${frame.height}`,
    );
  const plane = (channel: number): Plane => {
    const data = new Float64Array(width * height);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) data[i] = frame.data[((top + y) * frame.width + left + x) * 4 + channel]!;
    return { width, height, data };
  };
  return {
    encoding: inEncoding ?? `taken as ${guess.encoding}: ${guess.reason}`,
    channels: { red: plane(0), green: plane(1), blue: plane(2) },
    pitch,
    left,
    top,
    x: (left + width / 2 - frame.width / 2) * pitch,
    y: (top + height / 2 - frame.height / 2) * pitch,
  };
}

const DIGITS = 5;
const round = (value: number) => Number(value.toPrecision(DIGITS));
const each = <T, U>({ red, green, blue }: Record<Channel, T>, value: (one: T) => U): Record<Channel, U> => ({
  red: value(red),
  green: value(green),
  blue: value(blue),
});

/** Within this angle of the radius a normal measures meridional contrast, and beyond its complement sagittal. */
const DIRECTION_TOLERANCE = 30;

function directionOf(normal: [number, number], { x, y, pitch }: Chart): string {
  const height = Math.hypot(x, y);
  if (height < 8 * pitch) return "on the axis";
  const angle = (Math.acos(Math.min(1, Math.abs(normal[0] * x + normal[1] * y) / height)) * 180) / Math.PI;
  return angle < DIRECTION_TOLERANCE
    ? "meridional"
    : angle > 90 - DIRECTION_TOLERANCE
      ? "sagittal"
      : "between meridional and sagittal";
}

/** What was measured: facts, and columns of one length. The uncertainty is green's, one standard error. */
interface Report {
  facts: Record<string, string>;
  columns: Record<string, number[]>;
  /** Tables as a profile holds them. */
  tables?: Record<string, unknown[]>;
}

function edge(chart: Chart): Report {
  const measured = each(chart.channels, measureEdge);
  const { frequencies, normal, angle, half, beyond, uncertainty } = measured.green;
  return {
    facts: {
      quantity: "contrast, the edge’s own included",
      height: `${round(Math.hypot(chart.x, chart.y))} mm`,
      direction: directionOf(normal, chart),
      slant: `${round(angle)}°`,
      profile: `${half} px to both sides of the edge`,
      "light changing beyond that":
        beyond === null ? "not in the region" : `${(100 * beyond).toFixed(1)} % of the edge’s step`,
    },
    columns: {
      "frequency (lp/mm)": frequencies.map((f) => round(f / chart.pitch)),
      ...each(measured, ({ contrast }) => contrast.map(round)),
      uncertainty: uncertainty.map(round),
    },
  };
}

function flat(chart: Chart): Report {
  const measured = each(chart.channels, measureFlat);
  return {
    facts: { quantity: "light against that on the axis" },
    columns: {
      "height (mm)": measured.green.radii.map((radius) => round(radius * chart.pitch)),
      ...each(measured, ({ relative }) => relative.map(round)),
      uncertainty: measured.green.uncertainty.map(round),
    },
  };
}

function point(chart: Chart): Report {
  const { green } = chart.channels;
  const measured = each(chart.channels, (plane) => measurePoint(plane, green));
  const { x, y, radii, uncertainty } = measured.green;
  return {
    facts: {
      quantity: "light of a point, share of all of it a px²",
      place: `${round(chart.left + x)}, ${round(chart.top + y)} px`,
    },
    columns: {
      "distance (px)": radii.map(round),
      ...each(measured, ({ light }) => light.map(round)),
      uncertainty: uncertainty.map(round),
    },
  };
}

const COEFFICIENT_DIGITS = 6;

function grid(chart: Chart, { focal, model }: Options): Report {
  const { red, green, blue } = chart.channels;
  const { dots, leftOut, residual, coefficients, deviations, lateral } = measureGrid({
    planes: { red, green, blue },
    pitchX: chart.pitch,
    pitchY: chart.pitch,
    axisX: (green.width - 1) / 2 - chart.x / chart.pitch,
    axisY: (green.height - 1) / 2 - chart.y / chart.pitch,
    focalLength: focal,
    model,
  });
  const rounded = Object.fromEntries(
    Object.entries(coefficients).map(([name, value]) => [name, Number(value.toFixed(COEFFICIENT_DIGITS))]),
  );
  const [heights, reds, blues] = [lateral.heights, lateral.red, lateral.blue].map((column) => column.map(round)) as [
    number[],
    number[],
    number[],
  ];
  return {
    facts: {
      quantity: "distortion; red and blue against green, radially",
      dots: `${dots.length}${leftOut ? `, and ${leftOut} left out as damaged` : ""}`,
      "distance from the model, root mean square": `${round(residual)} px`,
      ...Object.fromEntries(
        Object.entries(rounded).map(([name, value]) => [
          `${model}, ${name}`,
          `${value} ± ${deviations[name]!.toPrecision(2)}`,
        ]),
      ),
    },
    columns: {
      "height (mm)": heights,
      "red (µm)": reds,
      "blue (µm)": blues,
      "uncertainty (µm)": lateral.uncertainty.map(round),
    },
    tables: {
      distortion: [{ focalLength: focal, model, coefficients: rounded }],
      lateralColour: [{ focalLength: focal, heights, red: reds, blue: blues }],
    },
  };
}

const print = ({ facts, columns, tables }: Report, json = false) => {
  if (json) return console.log(JSON.stringify({ ...facts, ...columns, ...tables }));
  for (const [name, value] of Object.entries(facts)) console.log(`${name}: ${value}`);
  const names = Object.keys(columns);
  const widths = names.map((name) => Math.max(name.length, 11));
  console.log(names.map((name, k) => name.padStart(widths[k]!)).join("  "));
  columns[names[0]!]!.forEach((_, i) =>
    console.log(names.map((name, k) => String(columns[name]![i]).padStart(widths[k]!)).join("  ")),
  );
};

/** Focal lengths a lens can have, mm. */
const [MIN_FOCAL_LENGTH, MAX_FOCAL_LENGTH] = [1, 5000];

const chartCommand = (
  name: string,
  description: string,
  measure: (chart: Chart, options: Options) => Report,
  further: Option[] = [],
) =>
  further
    .reduce(
      (command, option) => command.addOption(option),
      new Command(name)
        .description(description)
        .requiredOption("--in <file>", "a picture of the chart")
        .requiredOption("--sensor <size>", "the sensor, WIDTHxHEIGHT in mm", sensorOption)
        .option("--region <place>", "the part to measure, LEFT,TOP,WIDTHxHEIGHT in px", regionOption)
        .option("--in-encoding <name>", "how the picture is encoded: a name, or a .json, .cube or .clf file")
        .option("--json", "JSON"),
    )
    .action(async (options: Options) => {
      const chart = await readChart(options);
      try {
        const { facts, ...rest } = measure(chart, options);
        print({ facts: { encoding: chart.encoding, ...facts }, ...rest }, options.json);
      } catch (error) {
        throw error instanceof MeasureError ? new UsageError(`--in ${options.in}: ${error.message}`) : error;
      }
    });

export const measureCommand = (): Command =>
  new Command("measure")
    .description("Measures a picture of a chart")
    .addCommand(chartCommand("edge", "contrast by frequency from one slanted edge (ISO 12233)", edge))
    .addCommand(chartCommand("flat", "relative illumination from an evenly lit field", flat))
    .addCommand(
      chartCommand("grid", "distortion and lateral colour from a grid of round dots", grid, [
        new Option("--focal <mm>", "focal length")
          .argParser(numberOption(MIN_FOCAL_LENGTH, MAX_FOCAL_LENGTH))
          .makeOptionMandatory(),
        new Option("--model <name>", "the distortion model that is fitted")
          .choices(["radial-tangential", "anamorphic"])
          .default("radial-tangential"),
      ]),
    )
    .addCommand(chartCommand("point", "radial spread of one point of light", point));
