import { cornerHeight } from "../../frame/geometry";
import { illuminationAt } from "../../profile/lens";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

export type Illumination = ValuesOf<typeof parameters>;

/** Entries of the table of gains over height squared; linear between them is exact to 0.01 %. */
const ENTRIES = 2048;
const REACH = 1.05;

/** Gain at an image height: the profile's relative illumination raised to the strength (its stops are scaled). */
export function illuminationGain(
  strength: number,
  { natural }: Illumination,
  { lens, focalLength, stop }: FrameContext,
): (height: number) => number {
  const relative = (lens && illuminationAt(lens, focalLength, stop)) ?? (() => 1);
  // Natural fall-off: the fourth power of the cosine of the field angle.
  const cosine4 = (height: number) => (1 + (height / focalLength) ** 2) ** -2;
  return (height) => (relative(height) * (natural ? cosine4(height) : 1)) ** strength;
}

const parameters = {
  natural: {
    type: "toggle",
    label: "Add natural fall-off",
    default: false,
    help: "Adds the cosine-fourth law of this focal length, for a profile that leaves it out.",
  },
} as const satisfies Record<string, Parameter>;

export const illumination = define<Illumination>({
  kind: "illumination",
  label: "Illumination",
  station: "lens",
  drawing: { outline: "M12 4 C22 18 22 46 12 60 H28 C34 46 34 18 28 4 Z" },
  reads: ["focalLength", "stop", "height"],
  check: { name: "illumination" },
  summary: "The picture darkens away from the axis as the lens was measured to, at this stop.",
  advice: "Look at an even wall or sky. Overdone, the frame looks like it was shot through a tube.",
  strengthLaw: "Multiplies the fall-off in stops.",
  source: "Relative illumination, measured; the natural fall-off is cos⁴ of the field angle.",
  passes: "dims",
  parameters,
  missing: ({ values }, { lens }) =>
    lens?.illumination?.length || values.natural ? null : "The lens profile has no illumination table.",
  work: {
    kind: "point",
    program({ strength, values }, context) {
      const { geometry } = context;
      const reach = (cornerHeight(geometry) * REACH) ** 2;
      const at = illuminationGain(strength, values, context);
      const table = Float32Array.from({ length: ENTRIES + 1 }, (_, i) =>
        at(Math.sqrt((reach * Math.min(i, ENTRIES - 1)) / (ENTRIES - 1))),
      );
      const { axisX, axisY, pitchX, pitchY } = geometry;
      return [
        {
          code: "radial",
          fields: { axisX, axisY, pitchX, pitchY, entries: (ENTRIES - 1) / reach, last: ENTRIES - 1, table },
        },
      ];
    },
  },
  response({ strength, mix, values }, context) {
    const corner = cornerHeight(context.geometry);
    const heights = Array.from({ length: 41 }, (_, i) => (corner * i) / 40);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: heights,
      y: heights.map((h) => Math.log2(illuminationGain(s, values, context)(h))),
    });
    return {
      title: `Fall-off at T${context.stop}`,
      x: { label: "Image height", unit: "mm" },
      y: { label: "Exposure", unit: "stops" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
