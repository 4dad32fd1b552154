import { addProgram } from "../../engine/pointwise";
import { planGaussian, planHalve, planLay } from "../../spread/gaussian";
import { define, type Parameter, type ValuesOf } from "../definition";
import { keyOf, keyParameters, keyRecord } from "../key";

type AxialColour = ValuesOf<typeof parameters>;

/** Colour of the fringe that light too short to be brought to focus leaves around bright edges. */
const VIOLET = [0.42, 0.12, 1] as const;

const parameters = {
  red: {
    type: "number",
    label: "Red defocus",
    unit: "µm",
    min: 0,
    max: 60,
    step: 0.5,
    default: 6,
    help: "Standard deviation of red's blur on the sensor.",
  },
  blue: {
    type: "number",
    label: "Blue defocus",
    unit: "µm",
    min: 0,
    max: 60,
    step: 0.5,
    default: 11,
    help: "Standard deviation of blue's blur on the sensor.",
  },
  fringe: {
    type: "number",
    label: "Violet fringe",
    unit: "%",
    min: 0,
    max: 100,
    step: 0.5,
    default: 4,
    help: "Light of the fringe over the keyed light.",
  },
  fringeSize: {
    type: "number",
    label: "Fringe size",
    unit: "µm",
    min: 5,
    max: 200,
    step: 1,
    default: 34,
    logarithmic: true,
    help: "Standard deviation of the fringe on the sensor.",
  },
  ...keyParameters(3.5),
} as const satisfies Record<string, Parameter>;

/** Red and blue out of focus where green is in it, and a violet fringe around edges that are over-bright. */
export const axialColour = define<AxialColour>({
  kind: "axialColour",
  label: "Axial colour",
  station: "lens",
  drawing: {
    outline: "M12 5 H28 C21 18 21 46 28 59 H12 C19 46 19 18 12 5 Z",
    detail: "M29 28L38 32M29 36L38 32M29 24L34 32",
  },
  summary:
    "Colours focus at different depths: red and blue are softer than green, and bright edges wear a violet fringe.",
  advice: "Look at branches against the sky at 1:1. Overdone, everything has a purple outline.",
  strengthLaw: "Multiplies the blurs and the fringe.",
  source: "Defocus by wavelength: blur of each channel by its own circle of confusion.",
  passes: "splits",
  parameters,
  key: ({ values }) => keyOf(values),
  work: {
    kind: "buffers",
    plan(builder, input, { strength, values }, { geometry }) {
      const px = (micrometres: number) =>
        [micrometres / 1000 / geometry.pitchX, micrometres / 1000 / geometry.pitchY] as const;
      const blurred = (micrometres: number) =>
        micrometres > 0 ? planGaussian(builder, input, ...px(micrometres * strength)) : input;
      const [red, blue] = [blurred(values.red), blurred(values.blue)];
      const lanes = addProgram(
        builder,
        input,
        builder.buffer(),
        [{ code: "lanes", fields: { red: "other", green: "row", blue: "third" } }],
        red,
        blue,
      );
      if (values.fringe === 0) return lanes;
      const half = planHalve(builder, input, { key: builder.table(keyRecord(keyOf(values))) });
      const [x, y] = px(values.fringeSize);
      const spread = planGaussian(builder, half, Math.max(0.5, x / 2), Math.max(0.5, y / 2));
      const gain = (values.fringe / 100) * strength;
      return planLay(builder, lanes, spread, [VIOLET[0] * gain, VIOLET[1] * gain, VIOLET[2] * gain]);
    },
  },
  response({ strength, mix, values }, { geometry }) {
    const nyquist = 0.5 / geometry.pitchY;
    const frequencies = Array.from({ length: 60 }, (_, i) => (i / 59) * nyquist);
    const trace = (kind: "measured" | "applied", s: number) =>
      (["red", "green", "blue"] as const).map((colour) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: frequencies,
        y: frequencies.map(
          (f) => 100 * Math.exp(-2 * (Math.PI * f * ((colour === "green" ? 0 : values[colour] * s) / 1000)) ** 2),
        ),
      }));
    return {
      title: "Contrast of each colour",
      x: { label: "Frequency", unit: "lp/mm" },
      y: { label: "Contrast", unit: "%" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
