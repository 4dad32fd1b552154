import { cornerHeight } from "../frame/geometry";
import type { PlanBuilder } from "../engine/plan";
import type { FrameGeometry } from "../frame/geometry";

/** Taps of each pass. Passes, each as coarse as the one before is long, multiply them. */
const TAPS = 9;
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
  /** The smear begins at the place itself and goes one way, fading by this factor from its beginning to its end; null: both ways, evenly. */
  fade: number | null;
  /** Passes: two make 81 places of the whole smear, three 729, for smears that are long against what they smear. */
  passes?: 2 | 3;
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
  const ratio = size.width / width;
  const reach = cornerHeight({ pitchX, pitchY, width, height, squeeze, ...rest }) * REACH;
  const table = Array.from({ length: ENTRIES + 1 }, (_, i) =>
    arc.amount(reach * Math.sqrt(Math.min(i, ENTRIES - 1) / (ENTRIES - 1))),
  );
  let image = input;
  for (let pass = passes; pass > 0; pass--) {
    const step = TAPS ** -pass;
    const [angle, scale] = [arc.angle * step, arc.scale * step];
    const first = arc.fade === null ? -(TAPS - 1) / 2 : 0;
    const decay = arc.fade === null ? 1 : arc.fade ** step;
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
      decay,
      ...arc.channels,
      0,
      ...table,
    ]);
    image = builder.add("arc", { source: image, out, width: size.width, height: size.height, record });
  }
  return image;
}
