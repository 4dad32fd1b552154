import { applied, profileContrast, type Sharpness } from "../elements/sharpness/sharpness";
import { contrastAt, measureEdge } from "../measure/edge";
import { planeOf, slantedEdge } from "./charts";
import { plainly, type Check, worst } from "./quantity";

/** Side of the part an edge is measured in, px. */
const REGION = 72;
const SLANT = (5 * Math.PI) / 180;
/** Cycles/px: to 0.8 of Nyquist. */
const FREQUENCIES = [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4];
const BAR = 0.02;

/** Contrast by ISO 12233's slanted edge: the axis, half field and full field, along the radius and across it. */
export const checkContrast: Check = ({ state, context, through }) => {
  const { geometry } = context;
  const values = state.values as unknown as Sharpness;
  const contrast = profileContrast(values, context);
  const { width, height, axisX, axisY, pitchX, pitchY } = geometry;
  const [farX, farY] = [axisX - REGION, axisY - REGION];
  return (
    [
      ["on the axis", 0],
      ["half field", 0.5],
      ["full field", 1],
    ] as const
  ).flatMap(([label, share]) =>
    (["meridional", "sagittal"] as const).map((direction) => {
      const [x, y] = [share * farX, share * farY];
      const wanted = contrast(direction);
      const angle = (share ? Math.atan2(y, x) : 0) + (direction === "meridional" ? 0 : Math.PI / 2) + SLANT;
      const chart = slantedEdge(width, height, axisX + x, axisY + y, angle);
      const part = {
        left: Math.round(axisX + x - REGION / 2),
        top: Math.round(axisY + y - REGION / 2),
        width: REGION,
        height: REGION,
      };
      const [before, after] = [chart, through(chart)].map((frame) => measureEdge(planeOf(frame, 1, part)));
      const image = Math.hypot(x * pitchX, y * pitchY);
      return worst(
        FREQUENCIES.map((f) => {
          const target = applied(wanted(f / pitchY, image), state.strength, values.maxGain);
          return plainly(
            "sharpness",
            `contrast ${label}, ${direction}, ${(f / pitchY).toFixed(0)} lp/mm`,
            "",
            target,
            contrastAt(after!, f) / contrastAt(before!, f),
            BAR,
          );
        }),
      );
    }),
  );
};
