import { cornerHeight } from "../../engine/geometry";
import { distortionAt } from "../../profile/lens";
import { define, type Trace } from "../definition";
import { distorted, geometryReport, type Fit } from "../geometry";

interface Distortion {
  fit: Fit;
}

/** Radial-tangential distortion of the lens; the emulated lens distorts an ideal picture. Displacement scales with strength. */
export const distortion = define<Distortion>({
  kind: "distortion",
  label: "Distortion",
  station: "lens",
  summary: "Straight lines bend as the lens bends them.",
  advice: "Look at the corners and at verticals near the edge, and mind that the framing changes.",
  strengthLaw: "Multiplies the displacement of every point.",
  parameters: {
    fit: {
      type: "choice",
      label: "Framing",
      help: "Keep the scale on the axis, fill the frame with picture, or show all of it.",
      options: { keep: "Keep scale", fill: "Fill the frame", all: "Show all" },
      default: "fill",
    },
  },
  lacks: (_, { lens }) => (lens?.distortion?.length ? null : "The lens profile has no distortion table."),
  work: {
    kind: "geometry",
    terms({ strength, values }, { lens, focalLength }) {
      const coefficients = lens && distortionAt(lens, focalLength);
      return coefficients ? { coefficients, strength, fit: values.fit } : {};
    },
  },
  response({ strength, mix, values }, { lens, focalLength, geometry }) {
    const coefficients = lens && distortionAt(lens, focalLength);
    const corner = cornerHeight(geometry);
    const heights = Array.from({ length: 41 }, (_, i) => (corner * i) / 40);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: heights,
      y: heights.map((h) => (h && coefficients ? 100 * ((distorted(coefficients, s, h / focalLength, 0)[0] * focalLength) / h - 1) : 0)),
    });
    const report = geometryReport(coefficients ? { coefficients, strength, fit: values.fit } : {}, geometry, focalLength);
    return {
      title: "Displacement",
      x: { label: "Image height", unit: "mm" },
      y: { label: "Displacement", unit: "% of height" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
      note: `Largest displacement ${report.largest.toFixed(1)} px; ${(100 * report.lost).toFixed(1)} % of the picture leaves the frame.`,
    };
  },
});
