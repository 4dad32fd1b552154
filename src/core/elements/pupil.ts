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

/**
 * How far a second circle is shifted, in radii, so that so much of the first is left: the lens of two circles, solved
 * by bisection.
 */
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
/** The golden angle: steps of it are even over a disc. */
const GOLDEN_ANGLE = 2.399963229728653;
/**
 * Discs of more pixels than this are made of samples, the area of pixels a sample stands for at most, and most samples.
 */
const EXACT_AREA = 600;
const PIXELS_A_SAMPLE = 1.6;
const MAX_SAMPLES = 900;
/** Points a small disc is made of, each counted where it falls: more would change no pixel by a thousandth. */
const POINTS = 4096;
/** By depth, every pixel up to this far (px along y) is looked at; further away some stand for others. */
const EVERY_PIXEL_TO = 6;
/** Radii (px) below any there are: no circle is in the picture yet. */
const NOTHING_YET = { smallTo: -2, wideFrom: -1 };
/** Entries a px of the table of areas. */
const AREAS_A_PX = 8;

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
  /** By depth; else every place has the largest radius. */
  depth?: PupilDepth;
  black: boolean;
}

export interface PupilDepth {
  buffer: number;
  /** Circle of confusion at infinity (radius, px) and distance in focus, m. */
  far: number;
  focus: number;
  /**
   * What the picture has already: circles (px) up to one radius, which fade to none of them from another on, and the
   * variance (px²) that it gets by being made smaller and larger again.
   */
  already?: { smallTo: number; wideFrom: number; variance: number };
  /** What becomes of light whose circle is larger than the largest radius: held to it, or left out. */
  larger: "held" | "left out";
  /** Alpha that comes out: the picture's, or how much of a place nearer things cover. */
  alpha: "picture" | "covered";
}

/** A place that light is gathered from. */
interface Sample {
  /** From the place looked at, px across and down. */
  dx: number;
  dy: number;
  /** The same on the pupil, px along y. */
  x: number;
  y: number;
  /** Radius (px along y) of the smallest iris that reaches it. */
  reach: number;
  /** Pixels it stands for, or its share of the light of a disc. */
  weight: number;
}

const weightAtRim = (rim: number, share: number) => 1 + rim * (2 * share ** 6 - 0.5);

/** Points spread evenly over the iris within the unit disc. */
function irisPoints(pupil: Pupil, count: number): { u: number; v: number; weight: number }[] {
  const points = Array.from({ length: count }, (_, i) => {
    const [r, angle] = [Math.sqrt((i + 0.5) / count), i * GOLDEN_ANGLE];
    return { r, angle, u: r * Math.cos(angle), v: r * Math.sin(angle), weight: weightAtRim(pupil.rim, r) };
  });
  return points.filter(({ r, angle }) => r <= irisRadius(pupil, angle));
}

/**
 * Samples of a disc of one radius. A small one is exact: each pixel has the light of the points that fall within it.
 */
function discSamples({ pupil, radius, aspect }: PupilPlan): Sample[] {
  const area = Math.PI * radius * radius * aspect;
  const isExact = area <= EXACT_AREA;
  const points = irisPoints(pupil, isExact ? POINTS : Math.min(MAX_SAMPLES, Math.round(area / PIXELS_A_SAMPLE)));
  const placed = points.map(({ u, v, weight }): Sample => {
    const [x, y] = [u * radius, v * radius];
    return { dx: Math.round(x * aspect), dy: Math.round(y), x, y, reach: Math.hypot(x, y), weight };
  });
  if (!isExact) return placed;
  const pixels = new Map<string, Sample>();
  for (const point of placed) {
    const key = `${point.dx} ${point.dy}`;
    const { x, y, reach, weight } = pixels.get(key) ?? { x: 0, y: 0, reach: 0, weight: 0 };
    const sum = weight + point.weight;
    const joined = (before: number, own: number) => (sum ? (before * weight + own * point.weight) / sum : own);
    const at = { x: joined(x, point.x), y: joined(y, point.y), reach: Math.max(reach, point.reach), weight: sum };
    pixels.set(key, { dx: point.dx, dy: point.dy, ...at });
  }
  return [...pixels.values()];
}

/**
 * Samples for circles of any radius up to the largest: every pixel that is near, and some that stand for those further
 * away.
 */
function depthSamples({ pupil, radius, aspect }: PupilPlan): Sample[] {
  const sampleAt = (dx: number, dy: number, weight: number): Sample => {
    const [x, y] = [dx / aspect, dy];
    return { dx, dy, x, y, reach: Math.hypot(x, y) / irisRadius(pupil, Math.atan2(y, x)), weight };
  };
  const samples: Sample[] = [];
  const near = Math.min(EVERY_PIXEL_TO, radius + 1);
  const [across, down] = [Math.ceil(near * aspect), Math.ceil(near)];
  for (let dy = -down; dy <= down; dy++)
    for (let dx = -across; dx <= across; dx++)
      if (Math.hypot(dx / aspect, dy) <= near) samples.push(sampleAt(dx, dy, 1));
  const outer = radius + 0.5;
  const area = Math.PI * (outer ** 2 - near ** 2) * aspect;
  const count = Math.max(0, Math.min(MAX_SAMPLES - samples.length, Math.round(area / PIXELS_A_SAMPLE)));
  for (let i = 0; i < count; i++) {
    const r = Math.sqrt(near ** 2 + ((i + 0.5) / count) * (outer ** 2 - near ** 2));
    const angle = i * GOLDEN_ANGLE;
    samples.push(sampleAt(Math.round(r * Math.cos(angle) * aspect), Math.round(r * Math.sin(angle)), area / count));
  }
  return samples.filter(({ reach }) => reach < radius + 0.5);
}

/** Pixels that a circle of a radius covers, as the samples count them: even steps of the radius, from none. */
function areasOf(samples: readonly Sample[], radius: number): number[] {
  return Array.from({ length: Math.ceil(radius * AREAS_A_PX) + 2 }, (_, i) =>
    samples.reduce(
      (sum, { reach, weight }) => sum + weight * Math.min(1, Math.max(0, i / AREAS_A_PX + 0.5 - reach)),
      0,
    ),
  );
}

/** Emits a gathering through the pupil. */
export function planPupil(builder: PlanBuilder, input: number, plan: PupilPlan): number {
  const { pupil, radius, corner, axisX, axisY, aspect, depth, black } = plan;
  const samples = (depth ? depthSamples(plan) : discSamples(plan)).sort((a, b) => a.reach - b.reach);
  const open = Array.from({ length: EYE_ENTRIES + 1 }, (_, i) => {
    const position = (i / EYE_ENTRIES) * (pupil.catEye.length - 1);
    const cell = Math.min(Math.floor(position), Math.max(0, pupil.catEye.length - 2));
    const here = pupil.catEye[cell] ?? 1;
    return Math.min(1, lerp(here, pupil.catEye[cell + 1] ?? here, position - cell));
  });
  const { width, height } = builder.size(input);
  const areas = depth ? areasOf(samples, radius) : [];
  const record = builder.floats([
    samples.length,
    radius,
    aspect,
    axisX,
    axisY,
    EYE_ENTRIES / corner,
    EYE_ENTRIES - 0.001,
    depth ? 1 : 0,
    depth?.far ?? 0,
    depth?.focus ?? 1,
    4 * (depth?.already?.variance ?? 0),
    depth?.larger === "left out" ? 1 : 0,
    depth?.alpha === "covered" ? 1 : 0,
    pupil.rim,
    AREAS_A_PX,
    areas.length,
    depth?.already?.smallTo ?? NOTHING_YET.smallTo,
    depth?.already?.wideFrom ?? NOTHING_YET.wideFrom,
    ...open.map(shiftFor),
    ...open.map((share) => 1 / share),
    ...samples.flatMap(({ dx, dy, x, y, reach, weight }) => [x, y, reach, weight, dx, dy, 0, 0]),
    ...areas,
    0,
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
