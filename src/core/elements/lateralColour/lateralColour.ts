import { cornerHeight } from "../../frame/geometry";
import { lateralColourAt } from "../../profile/lens";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

const MM_PER_UM = 1e-3;

function displacement(
  channel: "red" | "blue",
  strength: number,
  { lens, focalLength }: FrameContext,
): ((height: number) => number) | undefined {
  const curve = lens && lateralColourAt(lens, focalLength, channel);
  return curve ? (height) => curve(height) * strength * MM_PER_UM : undefined;
}

const parameters = {
  samples: {
    type: "choice",
    label: "Spectrum",
    help: "Samples from violet to red. Fringes wider than a pixel or so want more than the three channels, or they are three ghosts.",
    options: { 3: "3 samples", 7: "7 samples", 11: "11 samples", 15: "15 samples" },
    default: "7",
  },
} as const satisfies Record<string, Parameter>;

/** Red and blue displaced radially against green; done in one resampling with distortion. */
export const lateralColour = define<ValuesOf<typeof parameters>>({
  kind: "lateralColour",
  label: "Lateral colour",
  station: "lens",
  drawing: { outline: "M14 4 H27 C19 20 19 44 27 60 H14 Z", detail: "M30 22L37 20M30 42L37 44" },
  reads: ["focalLength", "height"],
  check: { name: "lateralColour" },
  summary: "Red and blue are magnified a little differently from green, so edges far from the axis are fringed.",
  advice:
    "Look at bright edges in the corners; the centre must stay clean. Overdone, the corners look printed out of register.",
  strengthLaw: "Multiplies the displacement of red and blue.",
  source: "Displacement by image height and wavelength, measured in µm; a smooth spectrum between the three channels.",
  passes: "splits",
  parameters,
  missing: (_, { lens }) => (lens?.lateralColour?.length ? null : "The lens profile has no lateral-colour table."),
  work: {
    kind: "geometry",
    terms: ({ strength, values }, context) => ({
      red: displacement("red", strength, context),
      blue: displacement("blue", strength, context),
      samples: Number(values.samples),
    }),
  },
  response({ strength, mix }, context) {
    const corner = cornerHeight(context.geometry);
    const heights = Array.from({ length: 41 }, (_, i) => (corner * i) / 40);
    const trace = (kind: Trace["kind"], s: number): Trace[] =>
      (["red", "blue"] as const).map((colour) => {
        const curve = displacement(colour, s, context);
        return {
          name: `${colour}, ${kind}`,
          colour,
          kind,
          x: heights,
          y: heights.map((h) => (curve?.(h) ?? 0) / MM_PER_UM),
        };
      });
    return {
      title: "Displacement against green",
      x: { label: "Image height", unit: "mm" },
      y: { label: "Displacement", unit: "µm" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
      note: `One pixel is ${(context.geometry.pitchX / MM_PER_UM).toFixed(1)} µm on this sensor.`,
    };
  },
});
