import type { Frame } from "../image/image";
import { canvasOf, isSame, NO_OVERSCAN, type Overscan, withOverscan } from "../image/overscan";
import type { LookRequest, Plan, PlateRequest, SourceRequest } from "./plan";

/** Pixels, RGBA, and how many of them on each side lie beyond what is shown. */
export interface Canvas {
  frame: Frame;
  overscan: Overscan;
}

/** Who has the pixels that a plan may ask for beside its own frame's. Plates come cut and scaled to what is shown. */
export interface FurtherSource {
  frame(number: number): Promise<Canvas>;
  depth(): Promise<Canvas>;
  plate(request: PlateRequest): Promise<Canvas>;
  /** With as much overscan as is wanted, where it can be had. */
  look(request: LookRequest, wanted: Overscan): Promise<Canvas>;
}

const LANES = 4;

function bring(request: SourceRequest, from: FurtherSource, wanted: Overscan): Promise<Canvas> {
  switch (request.kind) {
    case "frame":
      return from.frame(request.number);
    case "depth":
      return from.depth();
    case "plate":
      return from.plate(request);
    case "look":
      return from.look(request, wanted);
  }
}

/** A canvas's pixels with other overscan than its own. */
export const pixelsWith = ({ frame, overscan }: Canvas, wanted: Overscan): Float32Array =>
  isSame(overscan, wanted) ? frame.data : withOverscan(frame.data, frame, overscan, wanted, LANES);

/**
 * All the pixels a plan asks for beside its own frame's, each as large as the buffer it goes into. `shown`: the size of
 * what is shown, px; `overscan`: what the plan's own frame has around it. What is asked for after the overscan was cut
 * off has none.
 */
export async function furtherPixels(
  plan: Plan,
  shown: { width: number; height: number },
  overscan: Overscan,
  from: FurtherSource,
): Promise<Map<SourceRequest, Float32Array>> {
  const canvas = canvasOf(shown, overscan);
  const found = new Map<SourceRequest, Float32Array>();
  for (const { request, buffer } of plan.extras) {
    const { width, height } = plan.buffers[buffer]!;
    const wanted = width === canvas.width && height === canvas.height ? overscan : NO_OVERSCAN;
    found.set(request, pixelsWith(await bring(request, from, wanted), wanted));
  }
  return found;
}
