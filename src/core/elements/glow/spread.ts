import { memoised, NOTHING } from "../../maths/memoise";
import { clamp, lerp } from "../../maths/interpolate";
import { LUMINANCE } from "../../colour/primaries";
import { fitSpread, type SpreadFit } from "../../spread/fit";
import { planSpread, type Colour } from "../../spread/plan";
import type { PlanBuilder } from "../../engine/plan";
import type { FrameGeometry } from "../../frame/geometry";
import { type Glow } from "./parameters";

/**
 * The glow's spread with half its light within `half` px: from a tight exponential (falloff 0) to a power-law tail of
 * exponent
 * -3 (falloff 1), after Moffat, Astronomy & Astrophysics 3, 1969. Unit sum over the plane.
 */
export function glowProfile(half: number, falloff: number): (r: number) => number {
  const a = half / 1.67835; // half of exp(-r/a)'s light lies within 1.67835 a
  const b = half / Math.sqrt(3); // half of (1 + r²/b²)^-1.5's light lies within sqrt(3) b
  const exponential = (r: number) => Math.exp(-r / a) / (2 * Math.PI * a * a);
  const power = (r: number) => (1 + (r / b) ** 2) ** -1.5 / (2 * Math.PI * b * b);
  return (r) => lerp(exponential(r), power(r), falloff);
}

const fits = memoised<SpreadFit>(24);

export function fitGlow(
  { size, falloff }: Glow,
  frameHeight: number,
  height: number,
  width: number,
  stretch: number,
): SpreadFit {
  const half = (size / 100) * frameHeight;
  const key = [half, falloff, height, width, stretch].join(" ");
  return fits(NOTHING, key, () =>
    fitSpread(glowProfile(half, falloff), height, stretch, Math.hypot(height, width * stretch)),
  );
}

/** A tint weighted to keep luminance, with its saturation. */
function tinted(tint: Colour, saturation: number): Colour {
  const luminance = Math.max(
    tint.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0),
    1e-6,
  );
  return tint.map((value) => Math.max(0, lerp(1, value / luminance, saturation))) as unknown as Colour;
}

/** Tint by a member's width: the core's at the narrow end, the tail's at the wide end, on the logarithm between. */
export function tintOf(values: Glow, sigma: number, height: number): Colour {
  const half = (values.size / 100) * height;
  const t = clamp(Math.log(sigma / (0.3 * half)) / Math.log(10), 0, 1);
  const core = tinted(values.tintCore, values.saturation);
  const tail = tinted(values.tintTail, values.saturation);
  return core.map((value, i) => lerp(value, tail[i]!, t)) as unknown as Colour;
}

/** Emits the keyed light's spread alone. */
export function spreadOf(
  builder: PlanBuilder,
  input: number,
  values: Glow,
  key: { table: number } | undefined,
  geometry: FrameGeometry,
  stretch: number,
  gain: number,
): number {
  const { width, height } = builder.size(input);
  const fit = fitGlow(values, geometry.height, height, width, stretch);
  return planSpread(builder, input, {
    fit,
    weights: fit.weights.map(
      (weight, m) =>
        tintOf(values, fit.members[m]!.sigma, geometry.height).map((t) => t * weight * gain) as unknown as Colour,
    ),
    under: [0, 0, 0],
    key,
    surround: values.surround,
  });
}
