import { z } from "zod";
import { LUMINANCE } from "../../colour/primaries";
import { type AreaDefinition, common, type Named, schemasOf } from "../definition";

const light = {
  low: {
    label: "From",
    unit: "stops",
    help: "stops from mid-grey",
    default: -16,
    min: -16,
    max: 16,
    track: { min: -10, max: 10, step: 0.1 },
  },
  high: {
    label: "To",
    unit: "stops",
    help: "stops from mid-grey",
    default: 16,
    min: -16,
    max: 16,
    track: { min: -10, max: 16, step: 0.1 },
  },
  soft: {
    label: "Softness",
    unit: "stops",
    help: "stops beyond them",
    default: 1,
    min: 0,
    max: 8,
    track: { min: 0, max: 6, step: 0.1 },
  },
} as const;
const matte = {
  steady: {
    label: "Against grain",
    unit: "% of height",
    help: "blur of the picture the key looks at, % of height: grain does not flicker in it",
    default: 0.15,
    min: 0,
    max: 5,
    track: { min: 0, max: 2, step: 0.01 },
  },
  blur: {
    label: "Matte blur",
    unit: "% of height",
    help: "of its matte, % of height",
    default: 0,
    min: 0,
    max: 20,
    track: { min: 0, max: 10, step: 0.1 },
  },
  black: {
    label: "Matte black point",
    unit: "",
    help: "a matte below this is empty",
    default: 0,
    min: 0,
    max: 1,
    track: { min: 0, max: 0.9, step: 0.01 },
  },
  white: {
    label: "Matte white point",
    unit: "",
    help: "a matte above this is full",
    default: 1,
    min: 0,
    max: 1,
    track: { min: 0.1, max: 1, step: 0.01 },
  },
} as const;
const ofColour = {
  width: {
    label: "Colour width",
    unit: "",
    help: "of the colour, on its chromaticity",
    default: 0.08,
    min: 0.001,
    max: 1,
    track: { min: 0.005, max: 0.5, step: 0.005 },
  },
  colourSoft: {
    label: "Colour softness",
    unit: "",
    default: 0.05,
    min: 0.001,
    max: 1,
    track: { min: 0.005, max: 0.5, step: 0.005 },
  },
} as const;

const channel = z.number().min(0).max(1000);
export const keySchema = z
  .object({
    kind: z.literal("key"),
    ...common,
    ...schemasOf(light),
    colour: z
      .tuple([channel, channel, channel])
      .optional()
      .describe("light picked from the picture; without it any colour"),
    ...schemasOf(ofColour),
    ...schemasOf(matte),
  })
  .strict()
  .refine(({ low, high }) => low <= high, { path: ["low"], message: "must not lie above high" })
  .refine(({ black, white }) => black < white, { path: ["black"], message: "must lie below white" });
type Key = Named<z.infer<typeof keySchema>>;

const ANY_COLOUR = [1, 1, 1] as const;
const MIN_SUM = 1e-6;

/** Where light of some stops, and where it is wanted of some colour, comes in. */
export const key: AreaDefinition<Key> = {
  label: "Key on light",
  numbers: { ...light, ...matte, ...ofColour },
  shows: ({ colour }, name) => colour !== undefined || !(name in ofColour),
  limits: [
    ["low", "high", 0],
    ["black", "white", 0.01],
  ],
  fresh: { kind: "key", low: 1 },
  blurs: ({ steady, blur }) => ({ picture: steady, matte: blur }),
  record: (area) => {
    const [r, g, b] = area.colour ?? ANY_COLOUR;
    const sum = Math.max(r + g + b, MIN_SUM);
    return {
      code: "keyMatte",
      fields: {
        coloured: area.colour !== undefined,
        luminance: LUMINANCE,
        low: area.low,
        high: area.high,
        soft: area.soft,
        redShare: r / sum,
        blueShare: b / sum,
        width: area.width,
        colourSoft: area.colourSoft,
        black: area.black,
        white: area.white,
      },
    };
  },
};
