import { type Plan, PlanBuilder } from "../engine/plan";
import type { ShotFrame } from "../frame/context";
import { canvasOf, NO_OVERSCAN } from "../image/overscan";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import type { Cabinet } from "../profile/profiles";
import { fuse, type PathPart } from "./fuse";
import { type Output, outputNamed } from "./outputs/outputs";
import { takingParts } from "./taking";
import { addOutside, addPart, remaining } from "./parts";

/** What a frame is compiled for. */
export interface FrameRequest extends ShotFrame {
  /** Names the pixels of the source; equal keys mean equal pixels. */
  sourceKey: string;
  /** The result has the source's overscan; left out, it is cut off. */
  keepsOverscan?: boolean;
}

/** The last part, taken away from the others where an output may join it. */
function takeWaiting(parts: PathPart[]): { program: Extract<PathPart, { kind: "point" }>["program"]; recipe: string } {
  const last = parts.at(-1);
  if (last?.kind !== "point") return { program: [], recipe: "" };
  parts.pop();
  return last;
}

/**
 * Look and frame to plan. Pure: the same look, profiles and request give the same plan. Lengths are turned from
 * millimetres, degrees and percent to pixels here and nowhere later. Frames must be free of NaN and infinities
 * (image/image.ts sees to it). `isKept`: whether the engine that will run the plan still holds what a key stands for;
 * what it holds is not planned again.
 */
export function compile(
  look: Look,
  cabinet: Cabinet,
  request: FrameRequest,
  output: Output,
  isKept: (key: string) => boolean = () => false,
): Plan {
  const { width, height, overscan } = request;
  const at = lookAt(look, cabinet, request);
  const { context, elements, where } = at;
  const definition = outputNamed(output);
  const reach = definition.reach(output, elements);
  const acting = elements.slice(0, reach).filter(({ isActive }) => isActive);
  const taken = takingParts(look.camera.taking, at.strength, context);
  const parts = fuse(acting, context, definition.isForScreen ? acting.at(-1) : undefined, taken);
  // What lies by its place in the frame is done before the overscan is cut off.
  const waiting = definition.joins && !where && !overscan ? takeWaiting(parts) : { program: [], recipe: "" };
  const sourceKey = overscan ? `${request.sourceKey} overscan ${JSON.stringify(overscan)}` : request.sourceKey;
  const { from, rest } = remaining(parts, sourceKey, isKept);
  const canvas = canvasOf(request, overscan ?? NO_OVERSCAN);
  const builder = new PlanBuilder(canvas.width, canvas.height, from);
  let image = 0;
  for (const part of rest) image = addPart(builder, image, part, context);
  const isFootage = image === 0 && from === sourceKey;
  if (where && !isFootage && reach === elements.length) image = addOutside(builder, image, where, context);
  const isCut = overscan && !request.keepsOverscan;
  if (isCut) image = builder.crop(image, overscan, width, height);
  const shown = isCut ? lookAt(look, cabinet, { ...request, overscan: undefined }) : at;
  definition.append(builder, image, output, { at: shown, view: look.view, isFootage, waiting });
  return builder.finish();
}
