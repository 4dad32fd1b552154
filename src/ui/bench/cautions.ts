import type { FrameContext } from "@/core/elements/definition";
import { geometryReport } from "@/core/elements/geometry";
import { definitionOf } from "@/core/elements/registry";
import { mayAct } from "@/core/look/glass";
import { type LookElement, resolveElement } from "@/core/look/look";
import { cornerHeight } from "@/core/engine/geometry";
import { distortionAt } from "@/core/profile/lens";
import { heldMeasurements } from "@/core/profile/reach";

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
export function cautionsOf(element: LookElement, context: FrameContext): string[] {
  const definition = definitionOf(element.kind);
  const state = resolveElement(element, context.lens);
  const found: string[] = [];
  const lacks = definition.lacks?.(state, context);
  if (lacks) found.push(`${lacks} The element does nothing.`);
  if (!mayAct(element)) return found;
  if (element.strength > OVERDONE) found.push(`Strength is above twice the measured amount.`);
  const distortion =
    element.kind === "distortion" && context.lens ? distortionAt(context.lens, context.focalLength) : null;
  if (distortion) {
    const { lost, zoom } = geometryReport(
      { distortion, strength: element.strength, fit: state.values.fit as "keep" },
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
    if (said && kinds.includes(element.kind)) found.push(said);
  }
  return found;
}
