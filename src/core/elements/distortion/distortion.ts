import type { FrameContext } from "../../frame/context";
import { cornerHeight } from "../../frame/geometry";
import { type Distortion as Displacement, distorted, partOfDistortion } from "../../profile/distortion";
import { distortionAt } from "../../profile/lens";
import { invertibleRadius, undistorted } from "../../profile/undistort";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import { type GeometryTerms, geometryReport } from "../geometry";

type Distortion = ValuesOf<typeof parameters>;

/** A change of framing, or a part of the picture lost, that is worth saying. */
const WORTH_SAYING = 0.005;

const parameters = {
  direction: {
    type: "choice",
    label: "Direction",
    help: "Bend an ideal picture as the lens does, or straighten one that the lens has bent: each undoes the other.",
    options: { bend: "Bend", straighten: "Straighten" },
    default: "bend",
  },
  fit: {
    type: "choice",
    label: "Framing",
    help: "Keep the scale on the axis, fill the frame with picture, or show all of it.",
    options: { keep: "Keep scale", fill: "Fill the frame", all: "Show all" },
    default: "fill",
  },
} as const satisfies Record<string, Parameter>;

const none = () => 0;

/** What the element asks of the resampling; nothing where the lens was not measured. */
export function distortionTerms(
  { strength, values: { direction, fit } }: { strength: number; values: Distortion },
  { lens, focalLength }: Pick<FrameContext, "lens" | "focalLength">,
): GeometryTerms {
  const distortion = lens && distortionAt(lens, focalLength);
  if (!distortion) return {};
  return direction === "bend"
    ? { distortion, strength, fit }
    : { taken: { focalLength, distortion: partOfDistortion(distortion, strength), red: none, blue: none }, fit };
}

/** What is reported on: with the lens the footage was shot through, which is taken off in the same resampling. */
const reportedTerms = (state: { strength: number; values: Distortion }, context: FrameContext): GeometryTerms => ({
  ...(context.taken ? { taken: context.taken } : {}),
  ...distortionTerms(state, context),
});

/** Where the element draws an ideal place, or a bent one, focal lengths from the axis. */
export const drawnAt = (
  direction: Distortion["direction"],
  distortion: Displacement,
  strength: number,
  x: number,
  y: number,
): [number, number] =>
  direction === "bend"
    ? distorted(distortion, strength, x, y)
    : undistorted(distortion, strength, invertibleRadius(distortion, strength), x, y);

/**
 * Distortion of the lens, radial-tangential or anamorphic; the emulated lens distorts an ideal picture. Displacement
 * scales with strength.
 */
export const distortion = define<Distortion>({
  kind: "distortion",
  label: "Distortion",
  station: "lens",
  drawing: { outline: "M20 4 C31 18 31 46 20 60 C9 46 9 18 20 4 Z", detail: "M20 12C25 22 25 42 20 52" },
  reads: ["focalLength"],
  check: { name: "distortion" },
  summary: "Straight lines bend as the lens bends them.",
  advice: "Look at the corners and at verticals near the edge, and mind that the framing changes.",
  strengthLaw: "Multiplies the displacement of every point.",
  source:
    "Radial and tangential terms: D. Brown, Photogrammetric Engineering 32, 1966; anamorphic: even polynomials in x and y.",
  passes: "bends",
  parameters,
  missing: (_, { lens }) => (lens?.distortion?.length ? null : "The lens profile has no distortion table."),
  cautions(state, context) {
    const { geometry, focalLength } = context;
    const { lost, zoom } = geometryReport(reportedTerms(state, context), geometry, focalLength);
    const percent = (share: number) => `${(100 * Math.abs(share)).toFixed(1)} %`;
    return [
      ...(Math.abs(zoom - 1) > WORTH_SAYING ? [`Framing changed by ${percent(1 / zoom - 1)}.`] : []),
      ...(lost > WORTH_SAYING ? [`${percent(lost)} of the picture leaves the frame.`] : []),
    ];
  },
  work: {
    kind: "geometry",
    terms: distortionTerms,
  },
  response({ strength, mix, values }, context) {
    const { lens, focalLength, geometry } = context;
    const distortion = lens && distortionAt(lens, focalLength);
    const corner = cornerHeight(geometry);
    const heights = Array.from({ length: 41 }, (_, i) => (corner * i) / 40);
    const directions = [
      ["across", 1, 0, "red"],
      [
        "to the corner",
        (geometry.width * geometry.pitchX) / 2 / corner,
        (geometry.height * geometry.pitchY) / 2 / corner,
        "grey",
      ],
      ["down", 0, 1, "blue"],
    ] as const;
    /** Image height of an ideal point at a height in a direction, against that height, %. */
    const change = (h: number, x: number, y: number, s: number) =>
      h && distortion
        ? 100 *
          ((Math.hypot(...drawnAt(values.direction, distortion, s, (h * x) / focalLength, (h * y) / focalLength)) *
            focalLength) /
            h -
            1)
        : 0;
    const traces = (kind: Trace["kind"], s: number): Trace[] =>
      directions.map(([name, x, y, colour]) => ({
        name: `${name}, ${kind}`,
        colour,
        kind,
        x: heights,
        y: heights.map((h) => change(h, x, y, s)),
      }));
    const report = geometryReport(reportedTerms({ strength, values }, context), geometry, focalLength);
    return {
      title: "Displacement",
      x: { label: "Image height", unit: "mm" },
      y: { label: "Displacement", unit: "% of height" },
      traces: [...traces("measured", 1), ...traces("applied", strength * mix)],
      note: `Largest displacement ${report.largest.toFixed(1)} px; ${(100 * report.lost).toFixed(1)} % of the picture leaves the frame.`,
    };
  },
});
