import { geometryReport } from "@/core/elements/geometry";
import type { ElementAtFrame } from "@/core/look/at-frame";
import { cornerHeight } from "@/core/frame/geometry";
import { distortionAt } from "@/core/profile/lens";
import { heldMeasurements } from "@/core/profile/reach";
import type { FrameContext } from "@/core/frame/context";

const OVERDONE = 2;
/** A part of the picture lost that is worth saying. */
const WORTH_SAYING = 0.005;

/** Elements that read the profile's tables by focal length, by stop and by image height. */
const READS = {
  focalLength: ["distortion", "lateralColour", "sharpness", "illumination"],
  stop: ["sharpness", "illumination"],
  height: ["lateralColour", "sharpness", "illumination"],
};

/** Quiet, specific words about an element as it stands. */
export function cautionsOf({ kind, state, lacks, acts }: ElementAtFrame, context: FrameContext): string[] {
  if (lacks) return [`${lacks} The element does nothing.`];
  if (!acts) return [];
  const found: string[] = [];
  if (state.strength > OVERDONE) found.push(`Strength is above twice the measured amount.`);
  const distortion = kind === "distortion" && context.lens ? distortionAt(context.lens, context.focalLength) : null;
  if (distortion) {
    const { lost, zoom } = geometryReport(
      { distortion, strength: state.strength, fit: state.values.fit as "keep" },
      context.geometry,
      context.focalLength,
    );
    if (Math.abs(zoom - 1) > WORTH_SAYING)
      found.push(`Framing changed by ${Math.abs(100 * (1 / zoom - 1)).toFixed(1)} %.`);
    if (lost > WORTH_SAYING) found.push(`${(100 * lost).toFixed(1)} % of the picture leaves the frame.`);
  }
  const held = context.lens
    ? heldMeasurements(context.lens, { ...context, corner: cornerHeight(context.geometry) })
    : {};
  for (const [by, kinds] of Object.entries(READS)) {
    const said = held[by as keyof typeof READS];
    if (said && kinds.includes(kind)) found.push(said);
  }
  return found;
}
