/** Every slanted edge of a chart picture, found by itself and measured. */
import { contrastAt, type EdgeResponse, measureEdge } from "../edge";
import type { Region } from "../chart";
import { MeasureError, type Plane } from "../plane";
import { type Segment, segmentsIn } from "./segments";

/** An edge that was measured. Frequencies are cycles/px; the aperture of the pixel is in the contrast. */
export interface FoundEdge {
  /** Its middle, px of the picture. */
  x: number;
  y: number;
  /** Of the part that was measured, px. */
  length: number;
  /** Michelson contrast of the chart itself, as its two sides show it. */
  step: number;
  response: EdgeResponse;
  /** Standard error by frequency: the edge's own, or what its parts differ by, whichever is more. */
  uncertainty: number[];
}

/** An edge that was found and cannot be measured, and why. */
export interface RefusedEdge {
  x: number;
  y: number;
  reason: string;
}

/** Slant from upright or level, degrees: too little leaves no profile, too much no straight crossing of lines. */
const MIN_SLANT = 1.2;
const MAX_SLANT = 42;
/** The least that is measured of an edge: its length, and room on both sides, px. */
const MIN_LENGTH = 24;
const MIN_ROOM = 10;
const MAX_ROOM = 84;
/** Corners reach so many deviations of the edge's softness into it, and this many px. */
const CORNER_DEVIATIONS = 3;
const CORNER = 3;
/** A change of light behind the edge at least this large, against the edge's own, is another edge. */
const ANOTHER = 0.1;
/** Edges whose middles lie nearer than this, px, are one. */
const ONE_EDGE = 8;
/** Parts of an edge whose readings are held against one another. */
const PARTS = 3;
const MIN_PART = 20;

const degreesOffAxis = ([x, y]: readonly [number, number]) => {
  const degrees = (Math.abs(Math.atan2(y, x)) * 180) / Math.PI;
  const offLevel = Math.min(degrees, 180 - degrees);
  return Math.min(offLevel, Math.abs(90 - degrees));
};

/** Light at a place between pixels, nearest; undefined outside. */
const lightAt = ({ width, height, data }: Plane, x: number, y: number): number | undefined => {
  const [px, py] = [Math.round(x), Math.round(y)];
  return px < 0 || py < 0 || px >= width || py >= height ? undefined : data[py * width + px];
};

/** Mean light along an edge at a distance from it, px; undefined where any of it lies outside. */
function lightBeside(plane: Plane, { x, y, along }: Segment, length: number, distance: number): number | undefined {
  let sum = 0;
  const count = Math.max(8, Math.round(length / 2));
  for (let i = 0; i < count; i++) {
    const t = ((i + 0.5) / count - 0.5) * length;
    const light = lightAt(plane, x + t * along[0] - distance * along[1], y + t * along[1] + distance * along[0]);
    if (light === undefined) return undefined;
    sum += light;
  }
  return sum / count;
}

/** Room on one side of an edge, px: until the picture ends, or light changes again. `way`: 1 or -1. */
function roomBeside(plane: Plane, segment: Segment, length: number, way: number, step: number): number {
  const clear = Math.ceil(CORNER_DEVIATIONS * segment.softness);
  let level: number | undefined;
  for (let distance = 0; distance <= MAX_ROOM; distance++) {
    const light = lightBeside(plane, segment, length, way * distance);
    if (light === undefined) return distance - 1;
    if (distance < clear) continue;
    level ??= light;
    if (Math.abs(light - level) > ANOTHER * step) return distance - CORNER - Math.ceil(segment.softness);
  }
  return MAX_ROOM;
}

/** The part of an edge that can be measured, and its room; null where there is too little of it. */
function measurable(plane: Plane, segment: Segment): { length: number; room: number; levels: [number, number] } | null {
  const length = segment.length - 2 * (CORNER + CORNER_DEVIATIONS * segment.softness);
  if (length < MIN_LENGTH) return null;
  const far = Math.ceil(CORNER_DEVIATIONS * segment.softness) + 1;
  const levels = [lightBeside(plane, segment, length, far), lightBeside(plane, segment, length, -far)];
  if (levels[0] === undefined || levels[1] === undefined) return null;
  const step = Math.abs(levels[0] - levels[1]);
  const free = Math.min(...[1, -1].map((way) => roomBeside(plane, segment, length, way, step)));
  if (free < Math.max(MIN_ROOM, CORNER_DEVIATIONS * segment.softness)) return null;
  return { length, room: free, levels: [levels[0], levels[1]] };
}

/** The pixels beside a part of an edge, as far as there is room: the box they lie in, and which of it they are. */
function beside({ x, y, along }: Segment, length: number, room: number): { region: Region; mask: Uint8Array } {
  const [ax, ay] = along.map(Math.abs) as [number, number];
  const [across, down] = [length * ax + 2 * room * ay, length * ay + 2 * room * ax];
  const [left, top] = [Math.ceil(x - across / 2), Math.ceil(y - down / 2)];
  const [width, height] = [Math.floor(x + across / 2) - left + 1, Math.floor(y + down / 2) - top + 1];
  const mask = Uint8Array.from({ length: width * height }, (_, i) => {
    const [dx, dy] = [left + (i % width) - x, top + Math.floor(i / width) - y];
    const isIn = Math.abs(dx * along[0] + dy * along[1]) <= length / 2;
    return Number(isIn && Math.abs(dy * along[0] - dx * along[1]) <= room);
  });
  return { region: { left, top, width, height }, mask };
}

/** Reads the part of a picture beside a part of an edge. Throws MeasureError. */
function read({ width, height, data }: Plane, segment: Segment, length: number, room: number): EdgeResponse {
  const { region, mask } = beside(segment, length, room);
  const out = new Float64Array(mask.length);
  for (let i = 0; i < mask.length; i++) {
    const [x, y] = [region.left + (i % region.width), region.top + Math.floor(i / region.width)];
    if (x < 0 || y < 0 || x >= width || y >= height) mask[i] = 0;
    else out[i] = data[y * width + x]!;
  }
  return measureEdge({ width: region.width, height: region.height, data: out, mask });
}

/** What parts of an edge, read by themselves, differ by: the standard error of their mean, by frequency. */
function spreadOfParts(
  plane: Plane,
  segment: Segment,
  length: number,
  room: number,
  { frequencies }: EdgeResponse,
): number[] | null {
  const each = length / PARTS;
  if (each < MIN_PART) return null;
  try {
    const parts = Array.from({ length: PARTS }, (_, i) => {
      const t = (i - (PARTS - 1) / 2) * each;
      const [x, y] = [segment.x + t * segment.along[0], segment.y + t * segment.along[1]];
      return read(plane, { ...segment, x, y }, each, room);
    });
    return frequencies.map((f) => {
      const values = parts.map((one) => contrastAt(one, f));
      const mean = values.reduce((a, b) => a + b) / PARTS;
      return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (PARTS - 1) / PARTS);
    });
  } catch {
    return null;
  }
}

/**
 * Finds and measures the slanted edges of a picture of a chart, in light: dark on light or light on dark, along the
 * radius or across it. What was found and cannot be measured is told with the reason. `tell`: how much is done, 0 to 1.
 */
export function measureEdges(
  plane: Plane,
  tell: (share: number) => void = () => {},
): { edges: FoundEdge[]; refused: RefusedEdge[] } {
  const edges: FoundEdge[] = [];
  const refused: RefusedEdge[] = [];
  const segments = segmentsIn(plane);
  for (const [i, segment] of segments.entries()) {
    tell(i / segments.length);
    const slant = degreesOffAxis(segment.along);
    if (slant < MIN_SLANT || slant > MAX_SLANT) continue;
    const { x, y } = segment;
    if (edges.some((other) => Math.hypot(other.x - x, other.y - y) < ONE_EDGE)) continue;
    const found = measurable(plane, segment);
    if (!found) continue;
    const { length, room, levels } = found;
    try {
      const response = read(plane, segment, length, room);
      const parts = spreadOfParts(plane, segment, length, room, response);
      const uncertainty = response.uncertainty.map((own, i) => Math.max(own, parts?.[i] ?? 0));
      const step = Math.abs(levels[0] - levels[1]) / Math.max(1e-9, levels[0] + levels[1]);
      edges.push({ x, y, length, step, response, uncertainty });
    } catch (error) {
      if (!(error instanceof MeasureError)) throw error;
      refused.push({ x, y, reason: error.message });
    }
  }
  return { edges, refused };
}
