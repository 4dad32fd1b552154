/** A look that takes a lens off is verified by charts that were shot through that lens. */
import type { Cabinet } from "../profile/profiles";
import { type Look, lookSchema } from "../look/look";
import { lacksFor, type Taking, TAKING_PARTS, type TakingPart } from "../look/taking";

/** What of a taking lens each element puts on again. */
const PARTS: Readonly<Record<string, TakingPart>> = {
  transmission: "transmission",
  distortion: "distortion",
  lateralColour: "lateralColour",
  sharpness: "contrast",
  illumination: "illumination",
};

/** A taking lens that only one of its parts is taken off of; the others were not in the chart. */
const only = (taking: Taking, part: TakingPart | undefined): Taking => ({
  ...taking,
  ...Object.fromEntries(TAKING_PARTS.map((name) => [name, name === part ? taking[name] : 0])),
});

/**
 * For an element's chart: the look of footage that was shot through the taking lens, of which the chart has that piece
 * alone, and the taking lens as it is taken off such footage. Null where none is taken off.
 */
export function takingFor(look: Look, cabinet: Cabinet, kind: string): { shot: Look | null; taking: Taking } | null {
  const { taking, ...camera } = look.camera;
  const lens = taking && cabinet.lenses.get(taking.profile);
  if (!taking || !lens) return null;
  const part = PARTS[kind];
  if (!part || lacksFor(lens).includes(part)) return { shot: null, taking: only(taking, undefined) };
  const { focalLength, stop } = taking;
  const shot = lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name: `Shot through ${lens.name}`.slice(0, 120),
    camera,
    lens: { ...look.lens, profile: taking.profile, focalLength, stop },
    elements: [{ id: `shot-${kind}`, kind, params: kind === "distortion" ? { fit: "keep" } : {} }],
    view: look.view,
  });
  return { shot, taking: only(taking, part) };
}

/** What is asked of a lens that was put on after another was taken off, where that is more than of one by itself. */
export const TAKING_BARS: Readonly<Record<string, number>> = {
  distortion: 0.1,
  lateralColour: 0.1,
  sharpness: 0.05,
  illumination: 0.3,
};
