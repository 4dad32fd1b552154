import { type Plan, PlanBuilder } from "../engine/plan";
import type { ShotFrame } from "../frame/context";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import type { Cabinet } from "../profile/profiles";
import { fuse, type Part } from "./fuse";
import { type Output, outputNamed } from "./outputs/outputs";
import { addOutside, addPart, remaining } from "./parts";

/** What a frame is compiled for. */
export interface FrameRequest extends ShotFrame {
  /** Names the pixels of the source; equal keys mean equal pixels. */
  sourceKey: string;
}

/** The last part, taken away from the others where an output may join it. */
function takeWaiting(parts: Part[]): { program: Extract<Part, { kind: "point" }>["program"]; recipe: string } {
  const last = parts.at(-1);
  if (last?.kind !== "point") return { program: [], recipe: "" };
  parts.pop();
  return last;
}

/**
 * Look and frame to plan. Pure: the same look, profiles and request give the same plan. Lengths are turned from millimetres,
 * degrees and percent to pixels here and nowhere later. Frames must be free of NaN and infinities (image/image.ts sees to it).
 * `isKept`: whether the engine that will run the plan still holds what a key stands for; what it holds is not planned again.
 */
export function compile(
  look: Look,
  cabinet: Cabinet,
  request: FrameRequest,
  output: Output,
  isKept: (key: string) => boolean = () => false,
): Plan {
  const at = lookAt(look, cabinet, request);
  const { context, elements, where } = at;
  const definition = outputNamed(output);
  const reach = definition.reach(output, elements);
  const acting = elements.slice(0, reach).filter(({ isActive }) => isActive);
  const parts = fuse(acting, context, definition.isForScreen ? acting.at(-1) : undefined);
  const waiting = definition.joins && !where ? takeWaiting(parts) : { program: [], recipe: "" };
  const { from, rest } = remaining(parts, request.sourceKey, isKept);
  const builder = new PlanBuilder(request.width, request.height, from);
  let image = 0;
  for (const part of rest) image = addPart(builder, image, part, context);
  const isFootage = image === 0 && from === request.sourceKey;
  if (where && !isFootage && reach === elements.length) image = addOutside(builder, image, where, context);
  definition.append(builder, image, output, { at, view: look.view, isFootage, waiting });
  return builder.finish();
}
