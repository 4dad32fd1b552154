import { memoised, NOTHING } from "../../maths/memoise";
import { type PlanBuilder } from "../../engine/plan";
import { planResize } from "../../engine/operations";
import { addProgram, productOperation } from "../../engine/pointwise";
import { smoothNoise, steppedNoise } from "../../maths/noise";
import { areaTaps, extendedTaps, smoothTaps } from "../../maths/taps";
import { planDouble, planGaussian, planHalve, planLay } from "../../spread/gaussian";
import { define, type Parameter, type ValuesOf } from "../definition";
import { encodingChoices } from "../plate/plate";
import { keyOf, keyParameters, keyRecord } from "../key";
import { OWN_ENCODING } from "../../frame/plate";
import type { FrameContext } from "../../frame/context";
import type { FrameGeometry } from "../../frame/geometry";

type Dirt = ValuesOf<typeof parameters>;

/** Dirt lights up at a quarter of the size: it lies on the front glass, far out of focus. */
const PART = 4;
/**
 * Lines it is drawn in, whatever the frame's size, so that it is the same dirt; fewer for a frame wider than
 * MAX_ASPECT.
 */
const DRAWN_LINES = 360;
const MAX_ASPECT = 4;
const SPECKS = 900;
const SCRATCHES = 40;
/** Radius of a speck, share of the frame's height, and of its blur at T1 . */
const SPECK = 0.0035;
const BLUR_AT_FULL = 0.004;

const unit = (seed: number, index: number) => (steppedNoise(seed, index) + 1) / 2;

interface Drawn {
  width: number;
  height: number;
  /** RGBA. */
  pixels: Float32Array;
}
const plates = memoised<Drawn>(4);

/**
 * What lies on the glass of a frame so many times as wide as high, 0 to about 1: specks that grow softer as the stop
 * opens, smears, scratches.
 */
function plateFor(values: Dirt, aspect: number, stop: number): Drawn {
  const height = Math.max(1, Math.round(DRAWN_LINES * Math.min(1, MAX_ASPECT / aspect)));
  const width = Math.max(1, Math.round(height * aspect));
  const { dust, smears, scratches, seed } = values;
  const key = [dust, smears, scratches, seed, width, height, stop].join(" ");
  return plates(NOTHING, key, () => drawn(values, width, height, stop));
}

function drawn({ dust, smears, scratches, seed }: Dirt, width: number, height: number, stop: number): Drawn {
  const plane = new Float32Array(width * height);
  const blur = Math.max(0.8, (BLUR_AT_FULL * height) / Math.sqrt(stop));
  const spot = (cx: number, cy: number, radius: number, light: number) => {
    const reach = Math.ceil(radius + 2 * blur);
    for (let y = Math.max(0, Math.floor(cy - reach)); y <= Math.min(height - 1, cy + reach); y++)
      for (let x = Math.max(0, Math.floor(cx - reach)); x <= Math.min(width - 1, cx + reach); x++)
        plane[y * width + x]! += light / (1 + Math.exp((Math.hypot(x - cx, y - cy) - radius) / (0.4 * blur)));
  };
  for (let i = 0; i < SPECKS * dust; i++)
    spot(
      unit(seed, i) * width,
      unit(seed + 1, i) * height,
      SPECK * height * (0.3 + 2.2 * unit(seed + 2, i) ** 4),
      0.25 + 0.75 * unit(seed + 3, i),
    );
  for (let i = 0; i < SCRATCHES * scratches; i++) {
    const [x, y, turn, length] = [
      unit(seed + 4, i) * width,
      unit(seed + 5, i) * height,
      unit(seed + 6, i) * Math.PI,
      (0.03 + 0.12 * unit(seed + 7, i)) * height,
    ];
    for (let t = 0; t < length; t++)
      spot(x + Math.cos(turn) * t, y + Math.sin(turn) * t + 2 * smoothNoise(seed + 8 + i, t / 9), 0.2, 0.12);
  }
  if (smears > 0)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [u, v] = [x / height, y / height];
        const wipe =
          smoothNoise(seed + 9, u * 3 + 4 * v) +
          0.6 * smoothNoise(seed + 10, u * 31 - v * 9) +
          0.3 * smoothNoise(seed + 11, v * 53 + u * 12);
        plane[y * width + x]! += smears * 0.35 * Math.max(0, wipe) ** 2;
      }
  return { width, height, pixels: Float32Array.from({ length: plane.length * 4 }, (_, i) => plane[i >> 2]!) };
}

/** Weights from a drawing to places that end at `end`: by area where they are fewer, smoothly where they are more. */
const tapsFor = (from: number, to: number, end: number) => (from > end ? areaTaps : smoothTaps)(from, to, end);

/** What lies on the glass, in a buffer like `quarter`: drawn, or as a picture shows it. */
function planGlass(
  builder: PlanBuilder,
  quarter: number,
  values: Dirt,
  stop: number,
  { width, height, axisX, axisY }: FrameGeometry,
): number {
  if (values.footage) {
    // The glass holds still: the picture's first frame serves the whole shot.
    const picture = builder.source({
      kind: "plate",
      footage: values.footage,
      encoding: values.encoding,
      ends: "hold",
      index: 0,
    });
    return planHalve(builder, planHalve(builder, picture));
  }
  const drawn = plateFor(values, width / height, stop);
  const from = { table: builder.table(drawn.pixels), width: drawn.width };
  /** What is shown of the frame has the drawing; around it lies its mirror image. */
  const taps = (drawnSize: number, shown: number, axis: number, size: number) => {
    const edge = shown / PART;
    const before = Math.round((axis - (shown - 1) / 2) / PART);
    return extendedTaps(tapsFor(drawnSize, Math.min(size, Math.ceil(edge)), edge), before, size);
  };
  const size = builder.size(quarter);
  const across = taps(drawn.width, width, axisX, size.width);
  return planResize(builder, from, builder.level(quarter), across, taps(drawn.height, height, axisY, size.height));
}

const parameters = {
  dust: {
    type: "number",
    group: "Drawn",
    relevantWith: { footage: [""] },
    label: "Dust",
    unit: "",
    min: 0,
    max: 3,
    step: 0.05,
    default: 1,
    help: "How many specks.",
  },
  smears: {
    type: "number",
    group: "Drawn",
    relevantWith: { footage: [""] },
    label: "Smears",
    unit: "",
    min: 0,
    max: 3,
    step: 0.05,
    default: 0.5,
    help: "Where a cloth went over it.",
  },
  scratches: {
    type: "number",
    group: "Drawn",
    relevantWith: { footage: [""] },
    label: "Scratches",
    unit: "",
    min: 0,
    max: 3,
    step: 0.05,
    default: 0.3,
    help: "How many.",
  },
  seed: {
    type: "number",
    group: "Drawn",
    relevantWith: { footage: [""] },
    label: "Seed",
    unit: "",
    min: 0,
    max: 9999,
    step: 1,
    default: 3,
    help: "Another number is another glass.",
  },
  footage: {
    type: "footage",
    group: "From a picture instead",
    label: "Picture",
    default: "",
    help: "A picture of dirty glass, black where it is clean; its first frame is used.",
  },
  encoding: {
    type: "choice",
    group: "From a picture instead",
    label: "Encoding",
    options: encodingChoices,
    default: OWN_ENCODING,
    help: "How the picture is encoded, where it is not as its shot says.",
  },
  reach: {
    type: "number",
    group: "How it lights up",
    label: "Reach",
    unit: "% of height",
    min: 2,
    max: 60,
    step: 1,
    default: 22,
    help: "How far a lamp lights the glass around itself.",
  },
  gain: {
    type: "number",
    group: "How it lights up",
    label: "Gain",
    unit: "%",
    min: 0,
    max: 500,
    step: 1,
    default: 90,
    help: "Light of the dirt over the light that reaches it.",
  },
  ...keyParameters(3.5),
} as const satisfies Record<string, Parameter>;

/** Dust, smears and scratches on the front glass: seen only where bright light reaches them. */
export const dirt = define<Dirt>({
  kind: "dirt",
  label: "Dirt",
  station: "front",
  drawing: { outline: "M15 4 H25 V60 H15 Z", detail: "M18 12h1M22 19h1M17.5 28h1.5M21.5 36h1M18 44h1M22 52h1" },
  summary: "What lies on the front glass lights up where bright light falls on it.",
  advice: "It is only there when a lamp is. Overdone, somebody should have cleaned the lens.",
  strengthLaw: "Multiplies the light of what lies on the glass.",
  source: "What lies on the glass, times the light that reaches it, out of focus by the stop.",
  passes: "adds",
  parameters,
  key: ({ values }) => keyOf(values),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { geometry, stop }: FrameContext) {
      const half = planHalve(builder, input, { key: builder.table(keyRecord(keyOf(values))), black: true });
      const quarter = planHalve(builder, half, { black: true });
      const sigma = ((values.reach / 100) * geometry.height) / PART;
      const light = planGaussian(builder, quarter, sigma, sigma, { black: true });
      const lit = addProgram(
        builder,
        light,
        builder.level(light),
        [productOperation],
        planGlass(builder, quarter, values, stop, geometry),
      );
      const gain = (values.gain / 100) * strength;
      return planLay(builder, input, planDouble(builder, lit, half), [gain, gain, gain]);
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => (i / 60) * values.reach * 3);
    const trace = (kind: "measured" | "applied", s: number) => ({
      name: kind,
      colour: "grey" as const,
      kind,
      x: distances,
      y: distances.map((d) => values.gain * s * Math.exp(-((d / values.reach) ** 2) / 2)),
    });
    return {
      title: "Light on the glass around a lamp",
      x: { label: "Distance from the lamp", unit: "% of frame height" },
      y: { label: "Light", unit: "% of what reaches it" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
