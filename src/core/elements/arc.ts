import { cornerHeight } from "../frame/geometry";
import type { PlanBuilder } from "../engine/plan";
import type { FrameGeometry } from "../frame/geometry";

/** Taps of each pass. Passes, each as coarse as the one before is long, multiply them. */
const TAPS = 9;
const MIDDLE = (TAPS - 1) / 2;
/** Weights of a pass that falls off to its ends. */
const FALLING = Array.from({ length: TAPS }, (_, k) => 1 - Math.abs(k - MIDDLE) / (MIDDLE + 1));
/**
 * Variance of a smear of two passes that falls off, over its whole length squared: that of the weights, and of the even
 * pass between them.
 */
export const FALLING_VARIANCE =
  (FALLING.reduce((sum, weight, k) => sum + weight * (k - MIDDLE) ** 2, 0) / FALLING.reduce((sum, w) => sum + w, 0) +
    (1 - TAPS ** -2) / 12) /
  TAPS ** 2;
const ENTRIES = 512;
const REACH = 1.6;

export interface Arc {
  /** Centre, px. */
  centreX: number;
  centreY: number;
  /** Whole angle of the arc (radians) and whole logarithm of its scale, at an amount of 1. */
  angle: number;
  scale: number;
  /** How much, by image height (mm) from the centre. */
  amount(height: number): number;
  /** Factors of R, G, B. */
  channels: readonly [number, number, number];
  /**
   * The smear begins at the place itself and goes one way, fading by this factor from its beginning to its end; null:
   * both ways, evenly.
   */
  fade: number | null;
  /** Both ways, it falls off evenly to its ends. */
  fallsOff?: true;
  /** Passes: two make 81 places of the whole smear, three 729, for smears that are long against what they smear. */
  passes?: 2 | 3;
}

/** Directions over which what a smear does across itself is averaged. */
const DIRECTIONS = Array.from({ length: 16 }, (_, i) => ((i + 0.5) / 16) * (Math.PI / 2));

/**
 * Variance (px²) that a smear of a whole length (px), both ways, has across itself: light between two pixels is taken
 * from both, t (1 - t) at a share t of the way. The mean over all directions.
 */
export function varianceAcross(length: number, passes: number): number {
  let sum = 0;
  for (let pass = 1; pass <= passes; pass++)
    for (let k = 0; k < TAPS; k++) {
      const offset = (k - MIDDLE) * length * TAPS ** -pass;
      const between = (position: number) => (position - Math.floor(position)) * (1 - position + Math.floor(position));
      for (const angle of DIRECTIONS) {
        const [c, s] = [Math.cos(angle), Math.sin(angle)];
        sum += s * s * between(offset * c) + c * c * between(offset * s);
      }
    }
  return sum / (TAPS * DIRECTIONS.length);
}

/** Emits a smear along arcs about a centre, or towards it; returns the result's buffer. */
export function planArc(
  builder: PlanBuilder,
  input: number,
  { pitchX, pitchY, width, height, squeeze, ...rest }: FrameGeometry,
  arc: Arc,
): number {
  const { passes = 2 } = arc;
  const size = builder.size(input);
  const ratio = size.width / builder.width;
  const reach = cornerHeight({ pitchX, pitchY, width, height, squeeze, ...rest }) * REACH;
  const table = Array.from({ length: ENTRIES + 1 }, (_, i) =>
    arc.amount(reach * Math.sqrt(Math.min(i, ENTRIES - 1) / (ENTRIES - 1))),
  );
  let image = input;
  for (let pass: number = passes; pass > 0; pass--) {
    const step = TAPS ** -pass;
    const [angle, scale] = [arc.angle * step, arc.scale * step];
    const first = arc.fade === null ? -MIDDLE : 0;
    const fading = arc.fade === null ? 1 : arc.fade ** step;
    const weights = arc.fallsOff && pass === 1 ? FALLING : Array.from({ length: TAPS }, (_, k) => fading ** k);
    const out = builder.level(input);
    const record = builder.floats([
      (arc.centreX + 0.5) * ratio - 0.5,
      (arc.centreY + 0.5) * ratio - 0.5,
      pitchX / ratio,
      pitchY / ratio,
      (ENTRIES - 1) / reach ** 2,
      ENTRIES - 1,
      TAPS,
      angle * first,
      angle,
      scale * first,
      scale,
      ...arc.channels,
      ...weights,
      ...table,
    ]);
    image = builder.add("arc", { source: image, out, width: size.width, height: size.height, record });
  }
  return image;
}
