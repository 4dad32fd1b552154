import { LUMINANCE } from "../../colour/primaries";
import { define, type Trace } from "../definition";

interface Vignette {
  inner: number;
  outer: number;
  aspect: number;
  roundness: number;
  x: number;
  y: number;
  rotation: number;
  exposure: number;
  saturation: number;
}

/** Exponent of the superellipse: 2 is an ellipse, the largest nearly a rectangle with rounded corners. */
const ELLIPSE = 2;
const SQUAREST = 10;

/** Quintic step: 0 to 1 with first and second derivatives of 0 at both ends. */
export const quintic = (t: number) => {
  const u = Math.min(1, Math.max(0, t));
  return u * u * u * (u * (6 * u - 15) + 10);
};

export const vignette = define<Vignette>({
  kind: "vignette",
  label: "Vignette",
  station: "lens",
  summary: "A shaped darkening (or brightening) outside an inner line, full beyond an outer one.",
  advice: "Toggle it. If the shape can be seen, move the outer line out and take half of it back.",
  strengthLaw: "Multiplies the exposure in stops and the change of saturation.",
  parameters: {
    inner: { type: "number", label: "Inner line", unit: "% of height", min: 5, max: 300, step: 1, default: 70, help: "Height of the region that is left alone; may exceed the frame." },
    outer: { type: "number", label: "Outer line", unit: "% of height", min: 10, max: 500, step: 1, default: 190, help: "Height of the line beyond which the effect is full." },
    aspect: { type: "number", label: "Width to height", unit: ":1", min: 0.2, max: 5, step: 0.01, default: 1.5, help: "Shape of both lines." },
    roundness: { type: "number", label: "Roundness", unit: "", min: 0, max: 1, step: 0.01, default: 1, help: "From a rectangle with round corners (0) to an ellipse (1)." },
    x: { type: "number", label: "Centre across", unit: "% of width", min: -100, max: 100, step: 0.5, default: 0, help: "From the frame's centre, to the right." },
    y: { type: "number", label: "Centre down", unit: "% of height", min: -100, max: 100, step: 0.5, default: 0, help: "From the frame's centre, downwards." },
    rotation: { type: "number", label: "Rotation", unit: "°", min: -180, max: 180, step: 0.5, default: 0, help: "Of the shape, clockwise." },
    exposure: { type: "number", label: "Exposure outside", unit: "stops", min: -8, max: 4, step: 0.05, default: -1, help: "What the outside loses, or gains." },
    saturation: { type: "number", label: "Saturation outside", unit: "", min: 0, max: 2, step: 0.01, default: 1, help: "1 leaves colour as it is." },
  },
  work: {
    kind: "point",
    program({ strength, values }, { geometry }) {
      const { width, height, axisX, axisY } = geometry;
      const b = ((values.inner / 100) * height) / 2;
      const a = b * values.aspect;
      const turn = (values.rotation * Math.PI) / 180;
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
      const power = SQUAREST * (ELLIPSE / SQUAREST) ** values.roundness;
      const saturation = Math.max(0, 1 + (values.saturation - 1) * strength);
      return [
        {
          code: "shape",
          floats: [
            axisX + (values.x / 100) * width,
            axisY + (values.y / 100) * height,
            cos / a, sin / a, -sin / b, cos / b,
            power,
            Math.max(values.outer / values.inner, 1 + 1e-3),
            values.exposure * strength,
            saturation,
            0, 0,
            ...LUMINANCE, 0,
          ],
        },
      ];
    },
  },
  response({ strength, mix, values }) {
    const distances = Array.from({ length: 61 }, (_, i) => (i / 60) * Math.max(values.outer * 1.1, 210) / 2);
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind, colour: "grey", kind, x: distances,
      y: distances.map((d) => s * values.exposure * quintic((2 * d - values.inner) / Math.max(values.outer - values.inner, 0.1))),
    });
    return {
      title: "Fall-off along the shape's height",
      x: { label: "Distance from the shape's centre", unit: "% of frame height" },
      y: { label: "Exposure", unit: "stops" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
