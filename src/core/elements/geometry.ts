import type { PlanBuilder } from "../engine/plan";
import type { FrameGeometry } from "../frame/geometry";
import { cornerHeight } from "../frame/geometry";
import { NOTHING, memoised } from "../maths/memoise";
import { coefficientsOf, distorted, type Distortion, UNDISTORTED } from "../profile/distortion";
import { invertibleRadius, undistorted } from "../profile/undistort";
import { planSplitChannels } from "../spread/resample";
import { CHANNELS, packSpectrum, spectrumOf } from "../spread/spectrum";
import type { FrameContext } from "../frame/context";
import type { TakenLens } from "../frame/taken";

/** An affine map of places, px: a, b, c, d, e, f take (x, y) to (ax + by + c, dx + ey + f). */
export type AffineMap = readonly [number, number, number, number, number, number];
const STILL: AffineMap = [1, 0, 0, 0, 1, 0];

/** What a geometric element asks for; neighbours are joined and done in one resampling. */
export interface GeometryTerms {
  distortion?: Distortion;
  strength?: number;
  fit?: Fit;
  /** Radial displacement of red and blue against green, mm, by image height in mm. */
  red?: (height: number) => number;
  blue?: (height: number) => number;
  /** Samples of the spectrum from end to end. */
  samples?: number;
  /** Where the light at a place of the output comes from in the input, of what moves the picture as a whole. */
  moved?: AffineMap;
  /** It is moved before the light meets the lens, not after. */
  isMovedFirst?: boolean;
  /** The lens the footage was shot through, which is taken off it first. */
  taken?: TakenLens;
}

export type Fit = "keep" | "fill" | "all";

/** Nodes of the map are this far apart; linear between them is exact to 0.01 px for any lens that is one. */
const SPACING = 8;
/** Samples of the lateral-colour table, over half as far again as the corner. */
const LATERAL_ENTRIES = 1024;
const LATERAL_REACH = 1.5;
const edgePoints = (n: number): [number, number][] =>
  Array.from({ length: n + 1 }, (_, i) => (2 * i) / n - 1).flatMap(
    (t) =>
      [
        [t, -1],
        [t, 1],
        [-1, t],
        [1, t],
      ] as [number, number][],
  );

/**
 * The factor on output coordinates that a fit asks for: `fill` shows no surround, `all` shows the whole source, `keep`
 * is 1.
 */
export function fitZoom(
  { distortion = UNDISTORTED, strength = 0, fit = "keep", taken }: GeometryTerms,
  geometry: FrameGeometry,
  focalLength: number,
): number {
  if ((distortion === UNDISTORTED && !taken) || fit === "keep") return 1;
  const { width, height, pitchX, pitchY } = geometry;
  const off = taken && { distortion: taken.distortion, focalLength: taken.focalLength };
  const key = JSON.stringify([distortion, strength, fit, width * pitchX, height * pitchY, focalLength, off]);
  /** Where the source has the light of an ideal place, focal lengths. */
  const sourceOf = (u: number, v: number): [number, number] => {
    if (!off) return [u, v];
    const scale = focalLength / off.focalLength;
    const [x, y] = distorted(off.distortion, 1, u * scale, v * scale);
    return [x / scale, y / scale];
  };
  return zooms(NOTHING, key, () =>
    searchZoom(
      distortion,
      strength,
      fit,
      (width * pitchX) / 2 / focalLength,
      (height * pitchY) / 2 / focalLength,
      sourceOf,
    ),
  );
}

/** A zoom depends on the lens and the sensor alone, and is wanted for every frame. */
const zooms = memoised<number>(64);

/**
 * Bisects for the zoom at which the frame's edge, undone, just touches the source's: from inside to fill, from outside
 * to show all.
 */
function searchZoom(
  distortion: Distortion,
  strength: number,
  fit: "fill" | "all",
  halfX: number,
  halfY: number,
  sourceOf: (u: number, v: number) => [number, number],
): number {
  const limit = invertibleRadius(distortion, strength);
  const reach = (zoom: number) => {
    const ratios = edgePoints(16).map(([x, y]) => {
      const [u, v] = sourceOf(...undistorted(distortion, strength, limit, x * halfX * zoom, y * halfY * zoom));
      return Math.max(Math.abs(u) / halfX, Math.abs(v) / halfY);
    });
    return fit === "fill" ? Math.max(...ratios) : Math.min(...ratios);
  };
  let [low, high] = [0.3, 3];
  for (let i = 0; i < 30; i++) {
    const middle = (low + high) / 2;
    if (reach(middle) > 1) high = middle;
    else low = middle;
  }
  return (low + high) / 2;
}

/** Points of the source's edge that are looked at on each of its sides, and halvings of the way to them. */
const EDGE_POINTS = 32;
const HALVINGS = 24;
/** Shares of the way to the edge at which displacement is looked at: it need not be largest at the edge. */
const SHARES = [0.25, 0.5, 0.75, 1];

/** How far along the way from the axis to a point of the source's edge the picture is still seen, 0 to 1. */
function seenAlong(isSeen: (x: number, y: number) => boolean, x: number, y: number): number {
  if (isSeen(x, y)) return 1;
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (isSeen(x * middle, y * middle)) low = middle;
    else high = middle;
  }
  return low;
}

/** A displacement below this share of the frame is none: the search for a zoom ends there. */
const EXACT = 1e-5;

/**
 * What the geometry did: the largest displacement (px), and the part of the source picture that is no longer seen (0 to
 * 1).
 */
export function geometryReport(
  terms: GeometryTerms,
  geometry: FrameGeometry,
  focalLength: number,
): { largest: number; lost: number; zoom: number } {
  const zoom = fitZoom(terms, geometry, focalLength);
  const { distortion = UNDISTORTED, strength = 0, taken } = terms;
  if (distortion === UNDISTORTED && !taken) return { largest: 0, lost: 0, zoom };
  const { width, height, pitchX, pitchY } = geometry;
  const halfX = ((width / 2) * pitchX) / focalLength;
  const halfY = ((height / 2) * pitchY) / focalLength;
  /** Where a place of the source belongs on an ideal picture: a lens that is taken off had moved it. */
  const idealOf = (x: number, y: number): [number, number] => {
    if (!taken) return [x, y];
    const scale = focalLength / taken.focalLength;
    const limit = invertibleRadius(taken.distortion, 1);
    const [u, v] = undistorted(taken.distortion, 1, limit, x * scale, y * scale);
    return [u / scale, v / scale];
  };
  const sourceOf = (x: number, y: number) =>
    distorted(distortion, strength, ...idealOf(x, y)).map((value) => value / zoom);
  const isSeen = (x: number, y: number) => {
    const [dx, dy] = sourceOf(x, y) as [number, number];
    return Math.abs(dx) <= halfX * (1 + EXACT) && Math.abs(dy) <= halfY * (1 + EXACT);
  };
  let largest = 0;
  let seen = 0;
  // The four sides are bases of four triangles round the axis, of one area: what of each is seen goes by the square of
  // the way.
  for (let i = 0; i < EDGE_POINTS; i++) {
    const t = (2 * i + 1) / EDGE_POINTS - 1;
    for (const [u, v] of [
      [t, -1],
      [t, 1],
      [-1, t],
      [1, t],
    ] as const) {
      const [x, y] = [u * halfX, v * halfY];
      for (const share of SHARES) {
        const [dx, dy] = sourceOf(x * share, y * share) as [number, number];
        const [px, py] = [((dx - x * share) * focalLength) / pitchX, ((dy - y * share) * focalLength) / pitchY];
        largest = Math.max(largest, Math.hypot(px, py));
      }
      seen += seenAlong(isSeen, x, y) ** 2;
    }
  }
  return { largest, lost: 1 - seen / (4 * EDGE_POINTS), zoom };
}

const hasLens = ({ distortion, red, blue, taken }: GeometryTerms) => Boolean(distortion || red || blue || taken);

/**
 * The terms of two neighbours that are done in one resampling, in light's order; null where they cannot be: both ask
 * for the same, or the picture was moved between two parts of the lens.
 */
export function joinTerms(before: GeometryTerms, after: GeometryTerms): GeometryTerms | null {
  if (Object.keys(after).some((name) => name in before)) return null;
  if (before.moved && hasLens(before) && !before.isMovedFirst) return null;
  // A lens is taken off before anything else is done in the same resampling.
  if (after.taken && (hasLens(before) || before.moved)) return null;
  return { ...before, ...after, ...(before.moved && hasLens(after) ? { isMovedFirst: true } : {}) };
}

const laterals = memoised<Float32Array>(16);

/** Emits the one resampling of joined terms; `recipe` names all they follow from. */
export function planGeometry(
  builder: PlanBuilder,
  input: number,
  terms: GeometryTerms,
  context: FrameContext,
  recipe: string,
): number {
  if (!hasLens(terms) && !terms.moved) return input;
  const { geometry, focalLength } = context;
  const { width, height } = builder.size(input);
  const { distortion = UNDISTORTED, strength = 0, samples = CHANNELS, moved = STILL, isMovedFirst = false } = terms;
  const { taken } = terms;
  const reach = cornerHeight(geometry) * LATERAL_REACH;
  const perMm = (LATERAL_ENTRIES - 1) / reach;
  const lateral = laterals(NOTHING, recipe, () =>
    Float32Array.from({ length: 4 * LATERAL_ENTRIES }, (_, i) => {
      const from = i < 2 * LATERAL_ENTRIES ? terms : taken;
      return (i % 2 ? from?.blue : from?.red)?.(((i >> 1) % LATERAL_ENTRIES) / perMm) ?? 0;
    }),
  );
  const record = Float64Array.of(
    focalLength,
    geometry.pitchX,
    geometry.pitchY,
    geometry.axisX,
    geometry.axisY,
    ...coefficientsOf(distortion).map((value) => value * strength),
    invertibleRadius(distortion, strength),
    fitZoom(terms, geometry, focalLength),
    perMm,
    LATERAL_ENTRIES - 1,
    ...(isMovedFirst ? STILL : moved),
    ...(isMovedFirst ? moved : STILL),
    taken?.focalLength ?? 0,
    ...coefficientsOf(taken?.distortion ?? UNDISTORTED),
  );
  const columns = Math.ceil(width / SPACING) + 2;
  const rows = Math.ceil(height / SPACING) + 2;
  const map = builder.buffer(columns * 2, rows);
  const [recorded, table] = [builder.table(record), builder.table(lateral)];
  const nodes = { out: map, columns, spacing: SPACING, record: recorded, lateral: table };
  builder.add("geometryMap", nodes, rows, columns * 24);
  // The map follows from the lens and the frame's size; not from any pixel.
  builder.constant(`map ${recipe}`);
  return builder.add("warp", {
    planes: planSplitChannels(builder, input, false),
    out: builder.buffer(),
    width,
    height,
    outWidth: width,
    map,
    columns,
    spacing: SPACING,
    black: false,
    spectrum: builder.floats(packSpectrum(spectrumOf(samples))),
  });
}
