import { lightAt, MID_GREY } from "../../colour/grey";
import { rollOffOperations } from "../roll-off";
import { frameSeed } from "../../maths/noise";
import { addProgram, layerOperation } from "../../engine/pointwise";
import { planSplit } from "./split";
import { define, type Trace } from "../definition";
import { keyOf } from "../key";
import { type Glow, parameters } from "./parameters";
import { fitGlow, tintOf } from "./spread";
import { planGlow } from "./plan";

/** A whole number from an element's name: FNV-1a. */
const seedOf = (id: string) =>
  [...id].reduce((hash, letter) => Math.imul(hash ^ letter.charCodeAt(0), 0x01000193), 0x811c9dc5);

export const glow = define<Glow>({
  kind: "glow",
  label: "Glow",
  station: "front",
  drawing: { outline: "M14 4 H26 V60 H14 Z", detail: "M20 12v40M17 20v24M23 20v24" },
  summary: "Keyed highlights spread into their surroundings, with a shape and colour of one's own.",
  advice:
    "See the matte first, then the reach, then the roll-off. Overdone, highlights grow instead of wrapping around what stands before them.",
  strengthLaw: "Multiplies the light laid over the picture.",
  source:
    "Tail after A. Moffat, Astronomy & Astrophysics 3, 1969; joined to the picture by the blend modes of W3C Compositing and Blending.",
  passes: "scatters",
  parameters,
  handles: [{ kind: "angle", label: "Angle of the glow", angle: "angle", plane: "scene", unless: { aspect: 1 } }],
  key: ({ values }) => keyOf(values),
  changesWithFrame: true,
  work: {
    kind: "buffers",
    plan(builder, input, { id, strength, values }, { geometry, frame }) {
      const spread = planGlow(builder, input, values, geometry, values.gain / 100);
      const light = planSplit(builder, spread, strength, values, geometry);
      // Strength multiplies what is laid, after its roll-off; with one, light of mid-grey keeps its place.
      const amount = strength * (values.gamma === 1 ? 1 : MID_GREY ** (1 - values.gamma));
      const layer = layerOperation({
        mode: values.lay,
        amount,
        level: values.level / 100,
        gamma: values.gamma,
        hold: lightAt(values.hold),
        dither: values.dither / 100,
        seed: frameSeed(seedOf(id), frame),
      });
      return addProgram(builder, light, builder.buffer(), [...rollOffOperations(values.rollOff), layer], input);
    },
  },
  response({ strength, mix, values }, { geometry }) {
    const fit = fitGlow(values, geometry.height, geometry.height, geometry.width, 1);
    const distances = Array.from({ length: 60 }, (_, i) => 1.5 * (geometry.height / 2 / 1.5) ** (i / 59));
    const trace = (kind: Trace["kind"], gain: number): Trace[] =>
      (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: distances.map((r) => (100 * r) / geometry.height),
        y: distances.map(
          (r) =>
            gain *
            fit.members.reduce(
              (sum, m, i) =>
                sum +
                fit.weights[i]! * tintOf(values, m.sigma, geometry.height)[c]! * m.at(r / Math.SQRT2, r / Math.SQRT2),
              0,
            ),
        ),
      }));
    return {
      title: "Spread",
      x: { label: "Distance from the source", unit: "% of frame height", logarithmic: true },
      y: { label: "Light", unit: "per px²", logarithmic: true },
      traces: [...trace("measured", values.gain / 100), ...trace("applied", (values.gain / 100) * strength * mix)],
      note: `Fitted within ${fit.error.toFixed(3)} log10 of the wanted shape.`,
    };
  },
});
