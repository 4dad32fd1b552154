import { memoised, NOTHING } from "../../maths/memoise";
import { planRollOff, rollOffParameter } from "../roll-off";
import { LUMINANCE } from "../../colour/primaries";
import { fitSpread, gaussianWeights, type SpreadFit } from "../../spread/fit";
import { planSpread, type Colour } from "../../spread/plan";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";
import type { FrameContext } from "../../frame/context";

type Halation = ValuesOf<typeof parameters>;

/** Share of the light that goes into the tail; the rest is in the ring. */
const TAIL_SHARE = 0.35;
/**
 * The ring is a wide Gaussian less a narrow one of half its width: brightest at the ring's radius, and a third as
 * bright in the middle, where light passes straight through the base and only what is scattered comes back.
 */
const WIDTHS = 2;
const TAKEN = 0.85;
/** The ring's radius in standard deviations of the narrow Gaussian: where the slopes of the two cancel. */
const RADIUS = Math.sqrt((2 * Math.log(TAKEN * WIDTHS ** 2)) / (1 - 1 / WIDTHS ** 2));
const WIDE_SHARE = WIDTHS ** 2 / (WIDTHS ** 2 - TAKEN);

const gaussian = (sigma: number) => (r: number) => Math.exp(-((r / sigma) ** 2) / 2) / (2 * Math.PI * sigma ** 2);
const exponential = (length: number) => (r: number) => Math.exp(-r / length) / (2 * Math.PI * length ** 2);

/** Shares of a ring's two Gaussians and their standard deviations, in the ring's radii. */
const GAUSSIANS = [
  { share: (1 - TAIL_SHARE) * WIDE_SHARE, sigma: WIDTHS / RADIUS },
  { share: (1 - TAIL_SHARE) * (1 - WIDE_SHARE), sigma: 1 / RADIUS },
];

/**
 * Light by distance: a ring that light turned back by total reflection in the base makes, and a tail. Unit sum over the
 * plane.
 */
export const halationProfile = (ring: number, tail: number) => (r: number) =>
  GAUSSIANS.reduce(
    (sum, { share, sigma }) => sum + share * gaussian(sigma * ring)(r),
    TAIL_SHARE * exponential(tail)(r),
  );

type HalationFit = Pick<SpreadFit, "bank" | "members" | "weights">;

const fits = memoised<HalationFit>(16);

/**
 * Blurs at full size cost as much as all others; where they would carry less of the light than this, the next one takes
 * it.
 */
const MIN_SHARE = 0.01;
const FULL_SIZE_MEMBERS = 2;

/**
 * Members' weights add: the tail is fitted, the ring's Gaussians lie between members. What falls within a pixel goes to
 * the narrowest.
 */
function fitFor({ ring, tail }: Halation, { geometry }: FrameContext): HalationFit {
  const { pitchX, pitchY, height, width } = geometry;
  const stretch = pitchX / pitchY;
  const key = [ring, tail, pitchX, pitchY, height, width].join(" ");
  return fits(NOTHING, key, () => {
    const fitted = fitSpread(exponential(tail / 1000 / pitchY), height, stretch, Math.hypot(height, width * stretch));
    const { bank, members } = fitted;
    const rings = GAUSSIANS.map(({ share, sigma }) =>
      gaussianWeights(members, (sigma * ring) / 1000 / pitchY).map((weight) => share * weight),
    );
    const weights = fitted.weights.map((weight, m) =>
      rings.reduce((sum, part) => sum + part[m]!, TAIL_SHARE * (weight + (m === 0 ? fitted.stay : 0))),
    );
    const narrow = weights.slice(0, FULL_SIZE_MEMBERS).reduce((sum, weight) => sum + weight, 0);
    const isSpared = Math.abs(narrow) < MIN_SHARE;
    return {
      bank,
      members,
      weights: isSpared
        ? weights.map((weight, m) => (m < FULL_SIZE_MEMBERS ? 0 : m === FULL_SIZE_MEMBERS ? weight + narrow : weight))
        : weights,
    };
  });
}

/** What each layer takes, with its saturation: towards grey of the same luminance. */
function layersOf({ layers, saturation, background }: Halation): Colour {
  const grey = layers.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0);
  return layers.map((value) => Math.max(0, grey + (value - grey) * saturation) * (1 - background)) as unknown as Colour;
}

const parameters = {
  ...keyParameters(3),
  ring: {
    type: "number",
    label: "Ring",
    unit: "µm",
    min: 20,
    max: 600,
    step: 5,
    default: 120,
    logarithmic: true,
    help: "Radius on the film at which light comes back most.",
  },
  tail: {
    type: "number",
    label: "Tail",
    unit: "µm",
    min: 20,
    max: 2000,
    step: 10,
    default: 320,
    logarithmic: true,
    help: "Distance over which the rest falls to 37 %.",
  },
  layers: {
    type: "triple",
    label: "Layers R, G, B",
    unit: "%",
    min: 0,
    max: 100,
    step: 0.5,
    default: [14, 4, 0.8],
    help: "Light that comes back into each layer, over the keyed light.",
  },
  background: {
    type: "number",
    label: "Anti-halation layer",
    unit: "",
    min: 0,
    max: 1,
    step: 0.01,
    default: 0,
    help: "Share that a dark backing swallows.",
  },
  saturation: {
    type: "number",
    label: "Saturation",
    unit: "",
    min: 0,
    max: 2,
    step: 0.01,
    default: 1,
    help: "Of its colour.",
  },
  rollOff: rollOffParameter("Roll-off"),
} as const satisfies Record<string, Parameter>;

/** Keyed light that comes back through the film's base, mostly into the red layer. */
export const halation = define<Halation>({
  kind: "halation",
  label: "Halation",
  station: "film",
  drawing: { outline: "M14 2 H26 V62 H14 Z", detail: "M23 5V59M17 32a3 3 0 1 0 6 0a3 3 0 1 0-6 0" },
  summary: "Bright light passes the film's layers, is turned back by its base, and exposes them again around itself.",
  advice: "Look at lamps against dark walls: a warm rim, nothing more. Overdone, every edge is red.",
  strengthLaw: "Multiplies the light that comes back.",
  source: "What the base sends back to each layer, as a ring and a tail in µm on the film.",
  passes: "returns",
  parameters,
  key: ({ values }) => keyOf(values),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, context) {
      const fit = fitFor(values, context);
      const layers = layersOf(values).map((value) => value / 100);
      const added = (amount: number) =>
        planSpread(builder, input, {
          fit,
          weights: fit.weights.map((weight) => layers.map((layer) => layer * weight * amount) as unknown as Colour),
          under: [1, 1, 1],
          key: builder.table(keyRecord(keyOf(values))),
          surround: "extend",
        });
      return planRollOff(builder, input, strength, added, values.rollOff);
    },
  },
  response({ strength, mix, values }, context) {
    const fit = fitFor(values, context);
    const { pitchY } = context.geometry;
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * 400 ** (i / 59));
    const layers = layersOf(values);
    const trace = (kind: "measured" | "applied", s: number) =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((px) => px * pitchY * 1000),
        y: distances.map(
          (px) =>
            (layers[c]! / 100) *
            s *
            fit.members.reduce(
              (sum, member, m) => sum + fit.weights[m]! * member.at(px / Math.SQRT2, px / Math.SQRT2),
              0,
            ),
        ),
      }));
    return {
      title: "Light that comes back",
      x: { label: "Distance on the film", unit: "µm", logarithmic: true },
      y: { label: "Light", unit: "per px²", logarithmic: true },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
