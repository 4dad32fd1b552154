import { clamp } from "../../maths/interpolate";
import { spreadCurve, type FilterProfile, type Grade } from "../../profile/filter";
import { fitSpread, type SpreadFit } from "../../spread/fit";
import { planSpread, type Colour } from "../../spread/plan";
import { define, type ElementState, type FrameContext, type Trace } from "../definition";

interface Diffusion {
  profile: string;
  grade: string;
  compensate: boolean;
  surround: "extend" | "black";
}

const CHANNELS = ["red", "green", "blue"] as const;
const DEGREE = Math.PI / 180;

function gradeOf({ profile, grade }: Diffusion, context: FrameContext): { filter: FilterProfile; grade: Grade } | null {
  const filter = context.cabinet.filters.get(profile);
  const found = filter?.grades.find((entry) => entry.grade === grade) ?? filter?.grades[0];
  return filter && found ? { filter, grade: found } : null;
}

/** Fits are as costly as a frame and depend only on glass and pitch, so the last ones are kept. */
const fits = new Map<string, { fit: SpreadFit; weights: number[][]; error: number }>();
const FITS_KEPT = 24;

/** Weights of the bank for each channel of a grade. A scatter angle t falls at f tan t on the sensor. */
export function fitGrade(grade: Grade, context: FrameContext) {
  const { geometry, focalLength } = context;
  const stretch = (geometry.pitchX * geometry.squeeze) / geometry.pitchY;
  const key = JSON.stringify([grade.spread, geometry.height, geometry.width, geometry.pitchY, stretch, focalLength]);
  let found = fits.get(key);
  if (!found) {
    const reach = Math.hypot(geometry.height, geometry.width * stretch);
    const channels = CHANNELS.map((channel) => {
      const curve = spreadCurve(grade.spread.degrees, grade.spread[channel]);
      return fitSpread((r) => curve(Math.atan((r * geometry.pitchY) / focalLength) / DEGREE), geometry.height, stretch, reach);
    });
    found = { fit: channels[0]!, weights: channels.map(({ weights }) => weights), error: Math.max(...channels.map(({ error }) => error)) };
    if (fits.size >= FITS_KEPT) fits.delete(fits.keys().next().value!);
    fits.set(key, found);
  }
  return found;
}

/** The scattered fraction at a strength; a filter cannot scatter more than all of the light. */
export const scatterAt = (grade: Grade, strength: number) => clamp(grade.scatter * strength, 0, 1);

/** T [(1 - sigma) I + sigma (1 - a) K * I], K the fitted spread with its unresolved centre kept in place. */
export const diffusion = define<Diffusion>({
  kind: "diffusion",
  label: "Diffusion",
  station: "front",
  summary: "A diffusion filter in front of the lens scatters part of the light around its source.",
  advice: "Look at practical lamps and at skin next to bright windows. Overdone, blacks turn grey and every lamp wears the same fog.",
  strengthLaw: "Multiplies the scattered fraction of the measured grade.",
  parameters: {
    profile: { type: "filter", label: "Filter", default: "milkglass", help: "The measured filter." },
    grade: { type: "grade", label: "Grade", default: "1/4", help: "Strength class of the filter, as marked on its rim." },
    compensate: { type: "toggle", label: "Keep exposure", default: true, help: "Gives back the light the filter absorbs, as opening the stop would." },
    surround: { type: "choice", label: "Outside the frame", options: { extend: "Mirrored", black: "Black" }, default: "extend", help: "What light is assumed to lie outside the frame." },
  },
  lacks: ({ values }, context) => (gradeOf(values, context) ? null : `The cabinet has no filter “${values.profile}”.`),
  work: {
    kind: "spread",
    plan(builder, input, { strength, values }, context) {
      const found = gradeOf(values, context);
      if (!found) return input;
      const { grade } = found;
      const { fit, weights } = fitGrade(grade, context);
      const scatter = scatterAt(grade, strength);
      const transmission = values.compensate ? 1 : 2 ** (grade.transmissionStops * strength);
      const passed = scatter * (1 - grade.absorption) * transmission;
      const stay = weights.map((channel) => Math.max(0, 1 - channel.reduce((a, b) => a + b, 0)));
      return planSpread(builder, input, {
        fit,
        weights: fit.members.map((_, m) => weights.map((channel) => channel[m]! * passed) as unknown as Colour),
        under: stay.map((share) => transmission * (1 - scatter) + share * passed) as unknown as Colour,
        lay: "add",
        hold: 0,
        surround: values.surround,
      });
    },
  },
  response(state, context) {
    const found = gradeOf(state.values, context);
    const axes = {
      title: "Spread",
      x: { label: "Distance from the source", unit: "% of frame height", logarithmic: true },
      y: { label: "Light", unit: "per px²", logarithmic: true },
    };
    if (!found) return { ...axes, traces: [] };
    const { fit, weights, error } = fitGrade(found.grade, context);
    const { height } = context.geometry;
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * (height / 2 / 1.5) ** (i / 59));
    const stretch = (context.geometry.pitchX * context.geometry.squeeze) / context.geometry.pitchY;
    const trace = (kind: Trace["kind"], strength: number): Trace[] =>
      CHANNELS.map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((r) => (100 * r) / height),
        y: distances.map((r) => scatterAt(found.grade, strength) * fit.members.reduce((sum, member, m) => sum + weights[c]![m]! * member.at(r / stretch / Math.SQRT2, r / Math.SQRT2), 0)),
      }));
    return {
      ...axes,
      traces: [...trace("measured", 1), ...trace("applied", appliedStrength(state))],
      note: `Fitted within ${error.toFixed(3)} log10 of the profile.`,
    };
  },
});

const appliedStrength = ({ strength, mix }: ElementState<Diffusion>) => strength * mix;
