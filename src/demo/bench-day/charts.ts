/** The charts of Bench day as the camera sees them through a lens: light, before its noise. */
import { lightOfSpectrum, spectrumOfLight } from "../../core/colour/spectrum";
import type { Frame } from "../../core/image/image";
import { monotoneCubic } from "../../core/maths/interpolate";
import type { LensProfile } from "../../core/profile/lens";
import { CAMERA } from "./camera";
import { edgeSpread } from "./edge-spread";
import { type Channel, CHANNELS, type LensOnCamera } from "./through-lens";

const { width: WIDTH, height: HEIGHT, pitch: PITCH } = CAMERA;
const [MIDDLE_X, MIDDLE_Y] = [(WIDTH - 1) / 2, (HEIGHT - 1) / 2];
const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Light of paper and of ink. */
const PAPER = 0.72;
const INK = 0.07;

/** How the chart stands before the camera: turned, leaning away, and beside the axis. */
const TURN = radians(0.4);
const LEAN = 0.0006;
const BESIDE = { x: 0.11, y: -0.07 };

/** A place of the ideal picture (mm) on the chart, in mm of the picture: it leans, so that far parts are smaller. */
function onChart(x: number, y: number): [number, number] {
  const scale = 1 / (1 - LEAN * x);
  const [u, v] = [(x - BESIDE.x) * scale, (y - BESIDE.y) * scale];
  return [u * Math.cos(TURN) + v * Math.sin(TURN), v * Math.cos(TURN) - u * Math.sin(TURN)];
}

/** Paints a frame: light of each channel at each pixel, by its place on the sensor (mm). */
function painted(light: (channel: Channel, x: number, y: number) => number): Frame {
  const frame: Frame = { width: WIDTH, height: HEIGHT, data: new Float32Array(4 * WIDTH * HEIGHT) };
  for (let j = 0, i = 0; j < HEIGHT; j++)
    for (let k = 0; k < WIDTH; k++, i += 4) {
      const [x, y] = [(k - MIDDLE_X) * PITCH, (j - MIDDLE_Y) * PITCH];
      CHANNELS.forEach((channel, c) => (frame.data[i + c] = light(channel, x, y)));
      frame.data[i + 3] = 1;
    }
  return frame;
}

/** Squares of the edge chart: how many, and their side and room, px. */
const [COLUMNS, ROWS, SIDE, ROOM] = [6, 3, 170, 95];
/** An edge is read where it leans from the pixels' rows and columns by so much, degrees. */
const [MIN_SLANT, MAX_SLANT] = [5, 38];
/** Heights between which a square's softness is blended. */
const HEIGHTS = 4;

/** The turn of a square, degrees: two sides along the radius where such a slant can be read, else as near as can be. */
function turnOf(x: number, y: number): number {
  const radius = (Math.atan2(y, x) * 180) / Math.PI;
  const turn = ((((radius + 45) % 90) + 90) % 90) - 45;
  const size = Math.min(MAX_SLANT, Math.max(MIN_SLANT, Math.abs(turn)));
  return turn < 0 ? -size : size;
}

interface Square {
  /** Its middle on the sensor, mm. */
  x: number;
  y: number;
  /** Unit vectors along its sides, and how light goes across each, by height. */
  sides: { along: [number, number]; spread(height: number, distance: number): number }[];
}

/**
 * How light goes across an edge with this normal near a place, against height (mm) and distance (px). Softness adds up
 * as variances do: an edge between the two directions has cos² of one contrast's logarithm and sin² of the other's.
 */
function spreadAcross(lens: LensOnCamera, normal: [number, number], x: number, y: number) {
  const middle = Math.hypot(x, y);
  const radial = middle < 1e-6 ? 0.5 : ((normal[0] * x + normal[1] * y) / middle) ** 2;
  const half = SIDE * PITCH;
  const [from, to] = [Math.max(0, middle - half), middle + half];
  const tables = Array.from({ length: HEIGHTS }, (_, i) => {
    const height = from + ((to - from) * i) / (HEIGHTS - 1);
    const [m, s] = [lens.meridional(height), lens.sagittal(height)];
    return edgeSpread((cycles) => m(cycles / PITCH) ** radial * s(cycles / PITCH) ** (1 - radial), normal);
  });
  return (height: number, distance: number) => {
    const at = Math.min(1, Math.max(0, (height - from) / (to - from))) * (HEIGHTS - 1);
    const i = Math.min(HEIGHTS - 2, Math.floor(at));
    const [low, high] = [tables[i]!(distance), tables[i + 1]!(distance)];
    return low + (at - i) * (high - low);
  };
}

/** Squares of ink on paper, each turned so that its sides lie along the radius and across it. */
export function edgeChart(lens: LensOnCamera): Frame {
  const frame = painted((_, x, y) => PAPER * lens.light(Math.hypot(x, y)));
  for (let row = 0; row < ROWS; row++)
    for (let column = 0; column < COLUMNS; column++) {
      const [px, py] = [((column + 0.5) * WIDTH) / COLUMNS, ((row + 0.5) * HEIGHT) / ROWS];
      drawSquare(frame, lens, (px - MIDDLE_X) * PITCH, (py - MIDDLE_Y) * PITCH);
    }
  return frame;
}

function squareAt(lens: LensOnCamera, x: number, y: number): Square {
  const turn = radians(turnOf(x, y));
  const along: [number, number][] = [
    [Math.cos(turn), Math.sin(turn)],
    [-Math.sin(turn), Math.cos(turn)],
  ];
  return { x, y, sides: along.map((one) => ({ along: one, spread: spreadAcross(lens, one, x, y) })) };
}

/**
 * Draws one square. Its edges are straight on the sensor: what distortion bends of so short an edge is less than a
 * hundredth of a pixel, and contrast is what they are for.
 */
function drawSquare(frame: Frame, lens: LensOnCamera, x: number, y: number): void {
  const { sides } = squareAt(lens, x, y);
  const [cx, cy] = [x / PITCH + MIDDLE_X, y / PITCH + MIDDLE_Y];
  const reach = SIDE / 2 + ROOM;
  const [left, right] = [Math.max(0, Math.ceil(cx - reach)), Math.min(WIDTH - 1, Math.floor(cx + reach))];
  const [top, bottom] = [Math.max(0, Math.ceil(cy - reach)), Math.min(HEIGHT - 1, Math.floor(cy + reach))];
  for (let j = top; j <= bottom; j++)
    for (let k = left; k <= right; k++) {
      const height = Math.hypot(k - MIDDLE_X, j - MIDDLE_Y) * PITCH;
      const ink = sides.reduce((share, { along, spread }) => {
        const distance = (k - cx) * along[0] + (j - cy) * along[1];
        return share * (spread(height, distance + SIDE / 2) - spread(height, distance - SIDE / 2));
      }, 1);
      const i = 4 * (j * WIDTH + k);
      for (let c = 0; c < 3; c++) frame.data[i + c]! *= 1 + (INK / PAPER - 1) * ink;
    }
}

/** Dots of the grid: apart by so much on the picture, and their radius, mm. */
const [APART, DOT] = [0.88, 0.2];
/** Samples of a pixel in each direction. */
const SAMPLES = 5;

/** Where the corners of a row of pixels lie on the chart, for one channel: x and y by turns, mm. */
function cornersOf(lens: LensOnCamera, channel: Channel, row: number): Float64Array {
  const out = new Float64Array(2 * (WIDTH + 1));
  const y = (row - 0.5 - MIDDLE_Y) * PITCH;
  for (let k = 0; k <= WIDTH; k++) out.set(onChart(...lens.idealOf(channel, (k - 0.5 - MIDDLE_X) * PITCH, y)), 2 * k);
  return out;
}

const offDot = (place: number) => (place / APART - Math.round(place / APART)) * APART;

/** How much of a pixel is ink, from its corners on the chart: sampled many times, its sides taken for straight. */
function inkOf(above: Float64Array, below: Float64Array, k: number): number {
  const at = (corners: Float64Array, c: number, axis: number) => corners[2 * (k + c) + axis]!;
  let ink = 0;
  for (let j = 0; j < SAMPLES; j++)
    for (let i = 0; i < SAMPLES; i++) {
      const [s, t] = [(i + 0.5) / SAMPLES, (j + 0.5) / SAMPLES];
      const place = (axis: number) =>
        (1 - t) * ((1 - s) * at(above, 0, axis) + s * at(above, 1, axis)) +
        t * ((1 - s) * at(below, 0, axis) + s * at(below, 1, axis));
      if (Math.hypot(offDot(place(0)), offDot(place(1))) < DOT) ink++;
    }
  return ink / SAMPLES ** 2;
}

/**
 * A grid of dots of ink that fills the frame. A squeezing lens is shot with one that is as much wider, so that its dots
 * are round on the sensor.
 */
export function gridChart(lens: LensOnCamera): Frame {
  const frame = painted((_, x, y) => PAPER * lens.light(Math.hypot(x, y)));
  CHANNELS.forEach((channel, c) => {
    let above = cornersOf(lens, channel, 0);
    for (let j = 0; j < HEIGHT; j++) {
      const below = cornersOf(lens, channel, j + 1);
      for (let k = 0; k < WIDTH; k++)
        frame.data[4 * (j * WIDTH + k) + c]! *= 1 + (INK / PAPER - 1) * inkOf(above, below, k);
      above = below;
    }
  });
  return frame;
}

/** How unevenly the field is lit: light at its right and lower edge against the middle. */
const UNEVEN = { x: 0.05, y: -0.02 };

/** An evenly lit field, nearly: `turned`, the camera was turned by 180° before it. */
export function flatField(lens: LensOnCamera, turned: boolean): Frame {
  const way = turned ? -1 : 1;
  const lamp = (x: number, y: number) =>
    1 + way * ((UNEVEN.x * x * 2) / CAMERA.sensor.width + (UNEVEN.y * y * 2) / CAMERA.sensor.height);
  return painted((_, x, y) => 0.5 * lamp(x, y) * lens.light(Math.hypot(x, y)));
}

/** A grey wall by its spectrum, bare or through a lens's glass: what comes through each wavelength is summed by the eye. */
export function throughGlass(lens: LensProfile | null): Frame {
  const table = lens?.transmission;
  const wall = spectrumOfLight([0.5, 0.5, 0.5]);
  const share = table ? monotoneCubic(table.wavelengths, table.values) : () => 1;
  const light = lightOfSpectrum((nm) => wall(nm) * share(nm));
  const level = lightOfSpectrum(wall)[1] / 0.5;
  return painted((channel) => light[CHANNELS.indexOf(channel)]! / level);
}
