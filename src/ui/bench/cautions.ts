import { definitionOf } from "@/core/elements/registry";
import type { FrameContext } from "@/core/frame/context";
import { cornerHeight } from "@/core/frame/geometry";
import type { ElementAtFrame } from "@/core/look/at-frame";
import { heldMeasurements } from "@/core/profile/reach";

const OVERDONE = 2;

/** Quiet, specific words about an element as it stands. */
export function cautionsOf({ kind, state, missing, isActive }: ElementAtFrame, context: FrameContext): string[] {
  if (missing) return [`${missing} The element does nothing.`];
  if (!isActive) return [];
  const { reads = [], cautions } = definitionOf(kind);
  const outside = context.lens
    ? heldMeasurements(context.lens, { ...context, corner: cornerHeight(context.geometry) })
    : {};
  return [
    ...(state.strength > OVERDONE ? ["Strength is above twice the measured amount."] : []),
    ...(cautions?.(state, context) ?? []),
    ...reads.flatMap((axis) => outside[axis] ?? []),
  ];
}
