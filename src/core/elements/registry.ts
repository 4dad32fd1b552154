import { axialColour } from "./axialColour/axialColour";
import { channelLag } from "./channelLag/channelLag";
import { curves } from "./curves/curves";
import { defocus } from "./defocus/defocus";
import type { ElementDefinition } from "./definition";
import { diffusion } from "./diffusion/diffusion";
import { dirt } from "./dirt/dirt";
import { distortion } from "./distortion/distortion";
import { edgeSoftness } from "./edgeSoftness/edgeSoftness";
import { flicker } from "./flicker/flicker";
import { fog } from "./fog/fog";
import { ghosts } from "./ghosts/ghosts";
import { glow } from "./glow/glow";
import { grain } from "./grain/grain";
import { halation } from "./halation/halation";
import { illumination } from "./illumination/illumination";
import { lateralColour } from "./lateralColour/lateralColour";
import { monochrome } from "./monochrome/monochrome";
import { net } from "./net/net";
import { plate } from "./plate/plate";
import { shafts } from "./shafts/shafts";
import { sharpen } from "./sharpen/sharpen";
import { sharpness } from "./sharpness/sharpness";
import { star } from "./star/star";
import { steady } from "./steady/steady";
import { streak } from "./streak/streak";
import { swirl } from "./swirl/swirl";
import { tone } from "./tone/tone";
import { transmission } from "./transmission/transmission";
import { trim } from "./trim/trim";
import { veil } from "./veil/veil";
import { vignette } from "./vignette/vignette";

/** Every element there is, in the order of the light path. Adding one is a folder and a line here. */
export const ELEMENTS: readonly ElementDefinition[] = [
  diffusion,
  fog,
  net,
  star,
  glow,
  shafts,
  dirt,
  plate,
  veil,
  ghosts,
  streak,
  defocus,
  swirl,
  distortion,
  lateralColour,
  axialColour,
  sharpness,
  edgeSoftness,
  illumination,
  vignette,
  transmission,
  halation,
  grain,
  flicker,
  channelLag,
  monochrome,
  trim,
  curves,
  tone,
  sharpen,
  steady,
];

const byKind = new Map(ELEMENTS.map((definition) => [definition.kind, definition]));

export function definitionOf(kind: string): ElementDefinition {
  const found = byKind.get(kind);
  if (!found) throw new RangeError(`There is no element of kind “${kind}”; there are ${[...byKind.keys()].join(", ")}`);
  return found;
}
