import { afterAll, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { startEngine } from "../../server/engine/engine";
import { flat, lookOf, numbers, type Setup, through } from "../../testing/laboratory";
import { shaking } from "../../testing/showing";
import type { ElementDefinition, Parameter } from "../elements/definition";
import { ELEMENTS } from "../elements/registry";
import { cleaned } from "../image/clean";
import type { Frame } from "../image/image";

/** Looks a size; `npm run fuzz` sets more. */
const LOOKS = Number(process.env.HALO_FUZZ_LOOKS ?? 12);
/** Sizes that ask too much of a pyramid, of halves, and of rows; the large ones in `npm run fuzz` alone. */
const SMALL = [
  [1, 1],
  [3, 2],
  [1, 40],
  [64, 36],
] as const;
const LARGE = [
  [17, 4000],
  [4096, 16],
  [640, 360],
] as const;
const SIZES = process.env.HALO_FUZZ_LOOKS ? [...SMALL, ...LARGE] : SMALL;
const SLOWEST_MS = 20_000;

const lab = startEngine(2, 64 * 2 ** 20);
afterAll(() => lab.close());

type Next = () => number;
const pick = <T>(next: Next, from: readonly T[]): T => from[Math.floor(next() * from.length)]!;
const between = (next: Next, min: number, max: number) =>
  next() < 0.2 ? pick(next, [min, max]) : min + next() * (max - min);

/** A value a parameter may have, often at an end of its range. */
function valueOf(next: Next, parameter: Parameter): unknown {
  switch (parameter.type) {
    case "number": {
      const value = between(next, parameter.min, parameter.max);
      return parameter.step >= 1 ? Math.round(value) : value;
    }
    case "triple":
      return [0, 1, 2].map(() => between(next, parameter.min, parameter.max));
    case "colour":
      return [0, 1, 2].map(() => between(next, 0, 4));
    case "curve": {
      const { x, y } = parameter;
      return [0, 1, 2].map((i) => [x.min + ((x.max - x.min) * (i + next() * 0.9)) / 3, between(next, y.min, y.max)]);
    }
    case "choice":
      return pick(next, Object.keys(parameter.options));
    case "toggle":
      return next() < 0.5;
    case "track":
      return pick(next, ["", shaking.id]);
    case "footage":
      return pick(next, ["", "plate"]);
    default:
      return undefined;
  }
}

function areaOf(next: Next): unknown {
  const areas = [
    { kind: "shape", x: between(next, -50, 50), width: between(next, 0.1, 200), rotation: between(next, -90, 90) },
    { kind: "polygon", points: [0, 1, 2, 3].map(() => [between(next, -60, 60), between(next, -60, 60)]) },
    { kind: "key", low: -4, high: 2, blur: between(next, 0, 5), colour: next() < 0.5 ? [0.3, 0.2, 0.1] : undefined },
    { kind: "depth", near: 1, far: between(next, 1, 50) },
  ];
  return {
    areas: [pick(next, areas), { ...pick(next, areas), combine: pick(next, ["union", "intersection", "difference"]) }],
    feather: between(next, 0, 10),
    limits: pick(next, ["result", "source", "both"]),
  };
}

const elementOf = (next: Next, { kind, parameters, negative }: ElementDefinition): Setup => ({
  kind,
  strength: pick(next, [1, 0.001, 2, 10, ...(negative ? [-1] : [])]),
  mix: pick(next, [1, 1, 0.3]),
  params: Object.fromEntries(
    Object.entries(parameters)
      .filter(() => next() < 0.6)
      .map(([name, parameter]) => [name, valueOf(next, parameter)])
      .filter(([, value]) => value !== undefined),
  ),
  ...(next() < 0.2 ? { where: areaOf(next) } : {}),
  ...(next() < 0.2 ? { when: { strength: { noise: { amplitude: 2, rate: 8, seed: 3 } } } } : {}),
});

/** Light such as files hold: of every order, below black, and what is no number. */
const LIGHTS = [0, 0.18, 1, -0.3, 1e-9, 65504, 1e6, 1e30, -1e30, Infinity, -Infinity, NaN];
function frameOf(next: Next, width: number, height: number): Frame {
  const frame = flat(width, height, 0.18);
  for (let i = 0; i < frame.data.length; i++)
    frame.data[i] = (i & 3) === 3 ? pick(next, [0, 1, 1, 0.5]) : next() < 0.1 ? pick(next, LIGHTS) : next();
  cleaned(frame.data);
  return frame;
}

test.each(SIZES)("random looks on %i x %i: no crash, nothing that is not finite, nothing slow", (width, height) => {
  for (let i = 0; i < LOOKS; i++) {
    const next = numbers(1000 * width + 7 * height + i);
    for (let k = 0; k < 5; k++) next();
    const elements = Array.from({ length: 1 + Math.floor(next() * 5) }, () => elementOf(next, pick(next, ELEMENTS)));
    const sensor = pick(next, [
      { width: 24.9, height: 14 },
      { width: 36, height: 24 },
      { width: 4, height: 30 },
    ]);
    const lens = {
      profile: pick(
        next,
        demoProfiles().filter(({ format }) => format === "pale-halo-lens"),
      ).id,
    };
    const look = {
      ...lookOf(elements, { ...lens, focalLength: between(next, 10, 200), stop: between(next, 1, 22) }, sensor),
      tracks: [shaking],
    };
    const from = frameOf(next, width, height);
    const depth = flat(width, height, 0);
    depth.data.forEach((_, at) => (depth.data[at] = between(next, 0.1, 40)));
    const begun = performance.now();
    const out = through(look, from, {
      frame: 5,
      shot: { first: 1, last: 9 },
      depth,
      plate: () => frameOf(next, width, height),
      others: () => from,
      on: lab,
    });
    const said = () => `look ${i}: ${JSON.stringify(elements)}`;
    if (!out.data.every(Number.isFinite)) throw new Error(`not finite: ${said()}`);
    if (performance.now() - begun > SLOWEST_MS) throw new Error(`slow: ${said()}`);
  }
  expect(LOOKS).toBeGreaterThan(0);
});
