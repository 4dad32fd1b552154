/** What is to be said of a lens that is taken off footage. */
import { stopsGivenBack } from "../compile/taking";
import { cornerHeight } from "../frame/geometry";
import type { LookAtFrame } from "../look/at-frame";
import type { Look } from "../look/look";
import { takingContext } from "../look/taking";
import { contrastOf } from "../profile/lens";
import { heldMeasurements } from "../profile/reach";

/** Light that is raised by more than this, stops, has its noise seen. */
const MANY_STOPS = 1;
/** Cycles a pixel at which contrast is looked at: half of what the frame can hold. */
const HALF_OF_NYQUIST = 0.25;

/** Contrast that cannot come back, light lost in the corners, a lens used outside its measurements. */
export function takingCautions(look: Look, { context }: Pick<LookAtFrame, "context">): string[] {
  const { taking } = look.camera;
  if (!taking) return [];
  const own = takingContext(taking, context);
  if (!own?.lens) return [`There is no lens “${taking.profile}” any more: nothing is taken off.`];
  const corner = cornerHeight(context.geometry);
  const stops = stopsGivenBack(taking, context, corner);
  const { pitchX } = context.geometry;
  const contrast = contrastOf(
    own.lens,
    taking.focalLength,
    taking.stop,
    "meridional",
  )?.(HALF_OF_NYQUIST / pitchX, corner);
  const wanted = contrast === undefined ? 1 : Math.max(contrast, 1e-3) ** -taking.contrast;
  return [
    ...(stops > MANY_STOPS
      ? [
          `The corners are raised by ${stops.toFixed(1)} stops: what the lens lost there is lost, and its noise is raised.`,
        ]
      : []),
    ...(wanted > taking.maxGain
      ? [
          `Fine contrast in the corners would have to be raised ${wanted.toFixed(1)} ×; it is raised ${taking.maxGain.toFixed(1)} × at most, and does not all come back.`,
        ]
      : []),
    ...Object.values(heldMeasurements(own.lens, { focalLength: taking.focalLength, stop: taking.stop, corner })),
  ];
}
