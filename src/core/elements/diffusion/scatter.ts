import { memoised, NOTHING } from "../../maths/memoise";
import { clamp } from "../../maths/interpolate";
import type { PlanBuilder } from "../../engine/plan";
import { spreadCurve, type Grade } from "../../profile/filter";
import { fitSpread, type SpreadFit } from "../../spread/fit";
import { planSpread, type Colour } from "../../spread/plan";
import type { FrameContext } from "../../frame/context";

/**
 * What every scattering filter shares: its grade, the fit of its spread, and the light it takes away and lays around.
 */
export const CHANNELS = ["red", "green", "blue"] as const;
const DEGREE = Math.PI / 180;

/** The grade a filter is set to, or its first; null where the cabinet has no such filter. */
export function gradeOf(
  { profile, grade }: { profile: string; grade: string },
  { cabinet }: FrameContext,
): Grade | null {
  const grades = cabinet.filters.get(profile)?.grades;
  return grades?.find((entry) => entry.grade === grade) ?? grades?.[0] ?? null;
}

export const noFilter = (
  { values }: { values: { profile: string; grade: string } },
  context: FrameContext,
): string | null => (gradeOf(values, context) ? null : `The cabinet has no filter “${values.profile}”.`);

/** Fits are as costly as a frame and depend only on glass and pitch, so the last ones are kept. */
const fits = memoised<{ fit: SpreadFit; weights: number[][]; error: number }>(24);

/** Weights of the bank for each channel of a grade. A scatter angle t falls at f tan t on the sensor. */
export function fitGrade(grade: Grade, context: FrameContext) {
  const { geometry, focalLength } = context;
  const stretch = (geometry.pitchX * geometry.squeeze) / geometry.pitchY;
  const key = JSON.stringify([grade.spread, geometry.height, geometry.width, geometry.pitchY, stretch, focalLength]);
  return fits(NOTHING, key, () => {
    const reach = Math.hypot(geometry.height, geometry.width * stretch);
    const channels = CHANNELS.map((channel) => {
      const curve = spreadCurve(grade.spread.degrees, grade.spread[channel]);
      return fitSpread(
        (r) => curve(Math.atan((r * geometry.pitchY) / focalLength) / DEGREE),
        geometry.height,
        stretch,
        reach,
      );
    });
    return {
      fit: channels[0]!,
      weights: channels.map(({ weights }) => weights),
      error: Math.max(...channels.map(({ error }) => error)),
    };
  });
}

/** The scattered fraction at a strength; a filter cannot scatter more than all of the light. */
export const scatterAt = (grade: Grade, strength: number) => clamp(grade.scatter * strength, 0, 1);

/**
 * transmission (1 - sigma) I + sigma kept K * I: sigma the scattered fraction at a strength, `kept` what of the
 * scattered light comes through, K the fitted spread with its unresolved centre kept in place.
 */
export function planScatter(
  builder: PlanBuilder,
  input: number,
  grade: Grade,
  context: FrameContext,
  {
    strength,
    kept,
    transmission = 1,
    surround = "extend",
  }: { strength: number; kept: number; transmission?: number; surround?: "extend" | "black" },
): number {
  const { fit, weights } = fitGrade(grade, context);
  const scatter = scatterAt(grade, strength);
  const passed = scatter * kept;
  const stay = weights.map((channel) => Math.max(0, 1 - channel.reduce((a, b) => a + b, 0)));
  return planSpread(builder, input, {
    fit,
    weights: fit.members.map((_, m) => weights.map((channel) => channel[m]! * passed) as unknown as Colour),
    under: stay.map((share) => transmission * (1 - scatter) + share * passed) as unknown as Colour,
    surround,
  });
}
