import type { PlanBuilder } from "../engine/plan";
import { lerp } from "../maths/interpolate";

/** The pupil of a lens: an iris of blades, cut to a cat's eye away from the axis, brighter or darker at its rim. */
export interface Pupil {
  blades: number;
  /** 0: straight blades; 1: a circle. */
  roundness: number;
  /** Share of the pupil still open at even steps of image height, axis to corner. */
  catEye: number[];
  /** Light at the rim against the middle, less one. */
  rim: number;
}

/** Radius of the iris in a direction, 1 at its corners. */
export function irisRadius({ blades, roundness }: Pupil, angle: number): number {
  if (blades < 3) return 1;
  const sector = (2 * Math.PI) / blades;
  const within = (((angle % sector) + sector) % sector) - sector / 2;
  return lerp(Math.cos(sector / 2) / Math.cos(within), 1, roundness);
}

/** How far a second circle is shifted, in radii, so that so much of the first is left: the lens of two circles, solved by bisection. */
export function shiftFor(open: number): number {
  let [low, high] = [0, 2];
  for (let i = 0; i < 40; i++) {
    const d = (low + high) / 2;
    const left = (2 * Math.acos(d / 2) - (d / 2) * Math.sqrt(4 - d * d)) / Math.PI;
    if (left > open) low = d;
    else high = d;
  }
  return (low + high) / 2;
}

const EYE_ENTRIES = 8;
/** Area of pixels a sample stands for at most: finer discs than that look speckled. */
const PIXELS_A_SAMPLE = 1.6;
const FEWEST_SAMPLES = 48;
const MOST_SAMPLES = 900;

// As assembly/pupil.ts has them: pixels of a block, pixels made at a time, and planes, without and with depth.
const BLOCK = 8;
const TURN = 4;
const PLANES = 4;
const DEPTH_PLANES = 7;

export interface PupilPlan {
  pupil: Pupil;
  /** Largest radius, px of the input along y. */
  radius: number;
  /** Image height at which the cat's eye is narrowest, px of the input along y. */
  corner: number;
  axisX: number;
  axisY: number;
  /** px along x for one along y on the sensor. */
  aspect: number;
  /** By depth: circle of confusion at infinity (radius, px) and distance in focus (m); else all at the largest radius. */
  depth?: { buffer: number; far: number; focus: number };
  black: boolean;
}

/** Emits a gathering through the pupil. */
export function planPupil(
  builder: PlanBuilder,
  input: number,
  { pupil, radius, corner, axisX, axisY, aspect, depth, black }: PupilPlan,
): number {
  const count = Math.round(
    Math.min(MOST_SAMPLES, Math.max(FEWEST_SAMPLES, (Math.PI * radius * radius * aspect) / PIXELS_A_SAMPLE)),
  );
  const samples: number[] = [];
  for (let i = 0; i < count; i++) {
    const r = Math.sqrt((i + 0.5) / count);
    const angle = i * 2.399963229728653; // the golden angle: even over the disc
    if (r > irisRadius(pupil, angle)) continue;
    samples.push(r * Math.cos(angle), r * Math.sin(angle), 1 + pupil.rim * (2 * r ** 6 - 0.5), 0);
  }
  const eyes = Array.from({ length: EYE_ENTRIES + 1 }, (_, i) => {
    const place = (i / EYE_ENTRIES) * (pupil.catEye.length - 1);
    const cell = Math.min(Math.floor(place), Math.max(0, pupil.catEye.length - 2));
    return shiftFor(
      Math.min(1, lerp(pupil.catEye[cell] ?? 1, pupil.catEye[cell + 1] ?? pupil.catEye[cell] ?? 1, place - cell)),
    );
  });
  const { width, height } = builder.size(input);
  const record = builder.floats([
    samples.length / 4,
    radius,
    aspect,
    axisX,
    axisY,
    EYE_ENTRIES / corner,
    EYE_ENTRIES - 0.001,
    depth ? 1 : 0,
    depth?.far ?? 0,
    depth?.focus ?? 1,
    ...eyes,
    0,
    ...samples,
  ]);
  const surround = Math.max(BLOCK, 4 * Math.ceil((radius * Math.max(1, aspect) + TURN) / 4));
  const planes = builder.buffer(
    width + 2 * surround,
    height + 2 * surround,
    (depth ? DEPTH_PLANES : PLANES) * Float32Array.BYTES_PER_ELEMENT,
  );
  const reach = builder.buffer(Math.ceil(width / BLOCK), Math.ceil(height / BLOCK), Float32Array.BYTES_PER_ELEMENT);
  const out = builder.level(input);
  const size = { width, height, surround, record };
  builder.add("pupilPlanes", { source: input, depth: depth?.buffer ?? null, out: planes, ...size, black });
  builder.add("pupilReach", { planes, out: reach, ...size }, Math.ceil(height / BLOCK), width * BLOCK);
  return builder.add("iris", { planes, reach, out, ...size });
}

/** Parameters of the pupil, shared by what is drawn through it. */
export const pupilParameters = {
  blades: {
    type: "number",
    label: "Blades",
    unit: "",
    min: 0,
    max: 24,
    step: 1,
    default: 9,
    help: "Of the iris; under three is a circle.",
  },
  roundness: {
    type: "number",
    label: "Roundness",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0.75,
    help: "0: straight blades; 1: a circle.",
  },
  catEye: {
    type: "number",
    label: "Cat's eye",
    unit: "% open",
    min: 10,
    max: 100,
    step: 1,
    default: 70,
    help: "How much of the pupil is open in the corner; the barrel shades the rest.",
  },
  rim: {
    type: "number",
    label: "Rim",
    unit: "",
    min: -1,
    max: 2,
    step: 0.01,
    default: 0.15,
    help: "Above 0 a bright edge, below 0 a soft one: the lens's spherical aberration.",
  },
} as const;

export interface PupilValues {
  blades: number;
  roundness: number;
  catEye: number;
  rim: number;
}

/** The barrel begins to shade half way out. */
export const pupilOf = ({ blades, roundness, catEye, rim }: PupilValues): Pupil => ({
  blades: Math.round(blades),
  roundness,
  rim,
  catEye: [0, 0.25, 0.5, 0.75, 1].map((t) => 1 - (1 - catEye / 100) * t ** 1.6),
});
