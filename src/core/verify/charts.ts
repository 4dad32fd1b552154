import type { Plane } from "../measure/plane";
import type { Frame } from "../image/image";

/** Computed charts: what each shows is known to the last digit. Light of their bright and dark parts: */
const LIGHT = 0.5;
const DARK = 0.05;
/** Pixels that an edge or a dot crosses are sampled in a square of this many points a side. */
const SAMPLES = 8;

export function painted(
  width: number,
  height: number,
  light: (x: number, y: number) => readonly [number, number, number],
): Frame {
  const data = new Float32Array(width * height * 4);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) data.set([...light(x, y), 1], i);
  return { width, height, data };
}

const grey = (value: number) => [value, value, value] as const;

export const flatField = (width: number, height: number, light = LIGHT): Frame =>
  painted(width, height, () => grey(light));

/** A black frame with one pixel of light. */
export const pointOfLight = (width: number, height: number, x: number, y: number, light: number): Frame =>
  painted(width, height, (px, py) => grey(px === x && py === y ? light : 0));

/**
 * A straight edge whose normal lies at `angle` (radians, clockwise from the right) through (cx, cy); pixels it crosses
 * hold their share.
 */
export function slantedEdge(width: number, height: number, cx: number, cy: number, angle: number): Frame {
  const [nx, ny] = [Math.cos(angle), Math.sin(angle)];
  return painted(width, height, (x, y) => {
    const middle = (x - cx) * nx + (y - cy) * ny;
    if (Math.abs(middle) > 1) return grey(middle > 0 ? LIGHT : DARK);
    let sum = 0;
    for (let k = 0; k < SAMPLES * SAMPLES; k++)
      sum +=
        (x + ((k % SAMPLES) + 0.5) / SAMPLES - 0.5 - cx) * nx +
          (y + (Math.floor(k / SAMPLES) + 0.5) / SAMPLES - 0.5 - cy) * ny >
        0
          ? LIGHT
          : DARK;
    return grey(sum / SAMPLES ** 2);
  });
}

export interface DotGrid {
  frame: Frame;
  /** Centres, px. */
  positions: [number, number][];
  radius: number;
}

/** Dots to the frame's height, and a dot's radius against their spacing. */
const DOTS = 11;
const RADIUS = 0.16;

/** A grid of dark discs on light, centred on the frame. */
export function dotGrid(width: number, height: number): DotGrid {
  const spacing = height / DOTS;
  const radius = RADIUS * spacing;
  const [middleX, middleY] = [(width - 1) / 2, (height - 1) / 2];
  const [columns, rows] = [Math.floor(width / spacing / 2), Math.floor(height / spacing / 2)];
  const positions: [number, number][] = [];
  for (let j = -rows; j <= rows; j++)
    for (let i = -columns; i <= columns; i++) positions.push([middleX + i * spacing, middleY + j * spacing]);
  const frame = painted(width, height, (x, y) => {
    const nearest = (at: number, middle: number) => Math.round((at - middle) / spacing) * spacing + middle;
    const distance = Math.hypot(x - nearest(x, middleX), y - nearest(y, middleY));
    return grey(LIGHT + (DARK - LIGHT) * Math.min(1, Math.max(0, radius + 0.5 - distance)));
  });
  return { frame, positions: positions, radius };
}

/** One channel of a frame, or of a part of it. */
export function planeOf(
  { width, height, data }: Frame,
  channel: number,
  part = { left: 0, top: 0, width, height },
): Plane {
  const plane = new Float64Array(part.width * part.height);
  for (let y = 0, i = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++, i++) plane[i] = data[((part.top + y) * width + part.left + x) * 4 + channel]!;
  return { width: part.width, height: part.height, data: plane };
}
