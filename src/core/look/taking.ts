/** The lens the footage was shot through: it can be taken off before the wanted one is put on. */
import { z } from "zod";
import type { FrameContext } from "../frame/context";
import type { TakenLens } from "../frame/taken";
import { partOfDistortion, UNDISTORTED } from "../profile/distortion";
import { distortionAt, lateralColourAt } from "../profile/lens";
import type { LensProfile } from "../profile/profiles";

const share = (what: string) => z.number().min(0).max(1).default(1).describe(`how much of its ${what} is taken off`);

export const takingSchema = z
  .object({
    profile: z.string().min(1).max(120).describe("id of the lens the footage was shot through"),
    focalLength: z.number().min(1).max(5000).describe("mm"),
    stop: z.number().min(0.5).max(128).describe("T-stop"),
    transmission: share("colour"),
    illumination: share("fall-off"),
    distortion: share("distortion"),
    lateralColour: share("lateral colour"),
    contrast: share("loss of contrast"),
    maxGain: z.number().min(1).max(8).default(3).describe("contrast is raised at most so many times"),
  })
  .strict();
export type Taking = z.infer<typeof takingSchema>;

/** What of a taking lens is taken off, each by a share of its own. */
export const TAKING_PARTS = ["transmission", "illumination", "distortion", "lateralColour", "contrast"] as const;
export type TakingPart = (typeof TAKING_PARTS)[number];

/** A lens as somebody begins with it: all of it is taken off. */
export const takingFor = ({ id, focalLengths, stops }: LensProfile): Taking =>
  takingSchema.parse({ profile: id, focalLength: focalLengths?.[0] ?? 50, stop: stops?.[0] ?? 2.8 });

/** What a taking lens has no table for, so that it cannot be taken off. */
export const lacksFor = ({ transmission, illumination, distortion, lateralColour, mtf }: LensProfile): TakingPart[] =>
  (
    [
      ["transmission", transmission],
      ["illumination", illumination?.length],
      ["distortion", distortion?.length],
      ["lateralColour", lateralColour?.length],
      ["contrast", mtf?.length],
    ] as const
  ).flatMap(([part, there]) => (there ? [] : [part]));

/** The frame as the taking lens met it; null where its profile is not there. */
export function takingContext({ profile, focalLength, stop }: Taking, context: FrameContext): FrameContext | null {
  const lens = context.cabinet.lenses.get(profile);
  return lens ? { ...context, lens, focalLength, stop } : null;
}

const MICROMETRES = 1e-3;

/**
 * What a taking lens did to places, as far as it is taken off; null where that is nothing. `overall`: the look's
 * strength; `context`: with the taking lens for its lens.
 */
export function takenLens(taking: Taking, overall: number, { lens, focalLength }: FrameContext): TakenLens | null {
  const distortion = lens && distortionAt(lens, focalLength);
  const [bent, parted] = [taking.distortion * overall, taking.lateralColour * overall];
  if (!(bent && distortion) && !(parted && lens?.lateralColour?.length)) return null;
  const lateral = (channel: "red" | "blue") => {
    const of = lens && lateralColourAt(lens, focalLength, channel);
    return (height: number) => (of ? of(height) * MICROMETRES * parted : 0);
  };
  return {
    focalLength,
    distortion: distortion ? partOfDistortion(distortion, bent) : UNDISTORTED,
    red: lateral("red"),
    blue: lateral("blue"),
  };
}

/** A look whose footage is taken to be shot through a lens; undefined where that lens is left on. */
export function withTaking<L extends { camera: { taking?: Taking } }>(look: L, taking: Taking | undefined): L {
  const { taking: _, ...camera } = look.camera;
  return { ...look, camera: taking ? { ...camera, taking } : camera };
}
