import { diffusion } from "./diffusion/diffusion";
import { distortion } from "./distortion/distortion";
import type { ElementDefinition } from "./definition";
import { glow } from "./glow/glow";
import { grain } from "./grain/grain";
import { illumination } from "./illumination/illumination";
import { lateralColour } from "./lateralColour/lateralColour";
import { sharpness } from "./sharpness/sharpness";
import { streak } from "./streak/streak";
import { transmission } from "./transmission/transmission";
import { trim } from "./trim/trim";
import { vignette } from "./vignette/vignette";

/** Every element there is, in the order of the light path. Adding one is a folder and a line here. */
export const ELEMENTS: readonly ElementDefinition[] = [
  diffusion, glow, streak, distortion, lateralColour, sharpness, illumination, vignette, transmission, grain, trim,
];

const byKind = new Map(ELEMENTS.map((definition) => [definition.kind, definition]));

export function definitionOf(kind: string): ElementDefinition {
  const found = byKind.get(kind);
  if (!found) throw new RangeError(`There is no element of kind “${kind}”; there are ${[...byKind.keys()].join(", ")}`);
  return found;
}
