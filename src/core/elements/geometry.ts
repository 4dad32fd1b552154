import type { PlanBuilder } from "../engine/plan";
import type { FrameGeometry } from "../engine/geometry";
import { cornerHeight } from "../engine/geometry";
import type { DistortionCoefficients } from "../profile/lens";
import type { FrameContext } from "./definition";

/** What a geometric element asks for; neighbours are joined and done in one resampling. */
export interface GeometryTerms {
  coefficients?: DistortionCoefficients;
  strength?: number;
  fit?: Fit;
  /** Radial displacement of red and blue against green, mm, by image height in mm. */
  red?: (height: number) => number;
  blue?: (height: number) => number;
}

export type Fit = "keep" | "fill" | "all";

/** Nodes of the map are this far apart; linear between them is exact to 0.01 px for any lens that is one. */
const SPACING = 8;
/** Samples of the lateral-colour table, over half as far again as the corner. */
const LATERAL_ENTRIES = 1024;
const LATERAL_REACH = 1.5;
/** A radial slope below this is taken as the fold of the picture. */
const LEAST_SLOPE = 0.05;

/** Ideal point (focal lengths from the axis) to the distorted one. Brown's radial-tangential model, displacement scaled by s. */
export function distorted({ k1, k2, k3, p1, p2 }: DistortionCoefficients, s: number, x: number, y: number): [number, number] {
  const r2 = x * x + y * y;
  const radial = r2 * (k1 + r2 * (k2 + r2 * k3));
  return [x + s * (x * radial + 2 * p1 * x * y + p2 * (r2 + 2 * x * x)), y + s * (y * radial + p1 * (r2 + 2 * y * y) + 2 * p2 * x * y)];
}

/** The radius (focal lengths) up to which the radial model can be inverted. */
function invertibleRadius({ k1, k2, k3 }: DistortionCoefficients, s: number): number {
  const slope = (r: number) => 1 + s * (3 * k1 * r ** 2 + 5 * k2 * r ** 4 + 7 * k3 * r ** 6);
  for (let r = 0; r < 4; r += 0.005) if (slope(r) < LEAST_SLOPE) return Math.max(r - 0.005, 0.01);
  return 4;
}

/** Ideal place of a distorted point, by Newton's method, as the kernel does it. */
function undistorted(c: DistortionCoefficients, s: number, limit: number, tx: number, ty: number): [number, number] {
  let [u, v] = [tx, ty];
  for (let i = 0; i < 8; i++) {
    const h = 1e-6;
    const [x, y] = distorted(c, s, u, v);
    const [xu, yu] = distorted(c, s, u + h, v);
    const [xv, yv] = distorted(c, s, u, v + h);
    const [a, b, d, e] = [(xu - x) / h, (xv - x) / h, (yu - y) / h, (yv - y) / h];
    const det = a * e - b * d;
    const [du, dv] = [(e * (x - tx) - b * (y - ty)) / det, (a * (y - ty) - d * (x - tx)) / det];
    u -= du;
    v -= dv;
    if (Math.abs(du) + Math.abs(dv) < 1e-9) break;
    if (!(Math.hypot(u, v) <= limit)) [u, v] = [(tx / Math.hypot(tx, ty)) * limit, (ty / Math.hypot(tx, ty)) * limit];
  }
  return [u, v];
}

const edgePoints = (n: number): [number, number][] =>
  Array.from({ length: n + 1 }, (_, i) => (2 * i) / n - 1).flatMap((t) => [[t, -1], [t, 1], [-1, t], [1, t]] as [number, number][]);

/**
 * The factor on output coordinates that a fit asks for: `fill` shows no surround, `all` shows the whole source, `keep` is 1.
 */
export function fitZoom({ coefficients, strength = 0, fit = "keep" }: GeometryTerms, geometry: FrameGeometry, focalLength: number): number {
  if (!coefficients || fit === "keep") return 1;
  const { width, height, pitchX, pitchY } = geometry;
  const key = JSON.stringify([coefficients, strength, fit, width * pitchX, height * pitchY, focalLength]);
  let zoom = zooms.get(key);
  if (zoom === undefined) {
    if (zooms.size >= ZOOMS_KEPT) zooms.clear();
    zoom = searchZoom(coefficients, strength, fit, (width * pitchX) / 2 / focalLength, (height * pitchY) / 2 / focalLength);
    zooms.set(key, zoom);
  }
  return zoom;
}

/** A zoom depends on the lens and the sensor alone, and is wanted for every frame. */
const zooms = new Map<string, number>();
const ZOOMS_KEPT = 64;

/** Bisects for the zoom at which the frame's edge, undone, just touches the source's: from inside to fill, from outside to show all. */
function searchZoom(coefficients: DistortionCoefficients, strength: number, fit: "fill" | "all", halfX: number, halfY: number): number {
  const limit = invertibleRadius(coefficients, strength);
  const reach = (zoom: number) => {
    const ratios = edgePoints(16).map(([x, y]) => {
      const [u, v] = undistorted(coefficients, strength, limit, x * halfX * zoom, y * halfY * zoom);
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

/** What the geometry did: the largest displacement (px), and the part of the source picture that is no longer seen (0 to 1). */
export function geometryReport(terms: GeometryTerms, geometry: FrameGeometry, focalLength: number): { largest: number; lost: number; zoom: number } {
  const zoom = fitZoom(terms, geometry, focalLength);
  const { coefficients, strength = 0 } = terms;
  if (!coefficients) return { largest: 0, lost: 0, zoom };
  const n = 24;
  let largest = 0;
  let inside = 0;
  let all = 0;
  const halfX = ((geometry.width / 2) * geometry.pitchX) / focalLength;
  const halfY = ((geometry.height / 2) * geometry.pitchY) / focalLength;
  for (let j = 0; j <= n; j++) {
    for (let i = 0; i <= n; i++) {
      const [x, y] = [((2 * i) / n - 1) * halfX, ((2 * j) / n - 1) * halfY];
      const [dx, dy] = distorted(coefficients, strength, x, y).map((value) => value / zoom) as [number, number];
      largest = Math.max(largest, Math.hypot(((dx - x) * focalLength) / geometry.pitchX, ((dy - y) * focalLength) / geometry.pitchY));
      all++;
      if (Math.abs(dx) <= halfX * 1.0001 && Math.abs(dy) <= halfY * 1.0001) inside++;
    }
  }
  return { largest, lost: 1 - inside / all, zoom };
}

/** Joins the terms of neighbouring elements; later ones fill in what earlier ones leave open. */
export const joinTerms = (all: GeometryTerms[]): GeometryTerms => Object.assign({}, ...all);

/** A number that tells tables apart: FNV-1a over the floats' bits. */
function hashOf(values: number[]): number {
  let hash = 0x811c9dc5;
  for (const word of new Int32Array(Float32Array.from(values).buffer)) hash = Math.imul(hash ^ word, 0x01000193);
  return hash;
}

export function planGeometry(builder: PlanBuilder, input: number, terms: GeometryTerms, context: FrameContext): number {
  const { geometry, focalLength } = context;
  const { width, height } = geometry;
  const none: DistortionCoefficients = { k1: 0, k2: 0, k3: 0, p1: 0, p2: 0 };
  const { k1, k2, k3, p1, p2 } = terms.coefficients ?? none;
  const strength = terms.strength ?? 0;
  const reach = cornerHeight(geometry) * LATERAL_REACH;
  const perMm = (LATERAL_ENTRIES - 1) / reach;
  const lateral = Array.from({ length: LATERAL_ENTRIES }, (_, i) => [terms.red?.(i / perMm) ?? 0, terms.blue?.(i / perMm) ?? 0]).flat();
  const record = Float64Array.of(
    focalLength, geometry.pitchX, geometry.pitchY, geometry.axisX, geometry.axisY,
    strength, k1, k2, k3, p1, p2,
    invertibleRadius(terms.coefficients ?? none, strength), fitZoom(terms, geometry, focalLength),
    perMm, LATERAL_ENTRIES - 1,
  );
  const columns = Math.ceil(width / SPACING) + 2;
  const rows = Math.ceil(height / SPACING) + 2;
  const map = builder.buffer(columns * 2, rows);
  builder.add("geometryMap", [{ buffer: map }, columns, SPACING, builder.table(record), builder.floats(lateral)], map, rows, columns * 24);
  // The map follows from these numbers; not from any pixel.
  builder.constant(JSON.stringify([width, height, [...record], hashOf(lateral)]));
  const out = builder.buffer();
  return builder.add("warp", [{ buffer: input }, { buffer: out }, width, height, { buffer: map }, columns, SPACING, 0], out);
}
