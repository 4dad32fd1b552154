import type { Track } from "../core/track/track";
import { lookOf, type Setup } from "./laboratory";

/** Lenses that measured what the usual one has not. */
const LENS: Record<string, string> = { swirl: "merrow-85", streak: "hask-scope-40" };

/** Parameters with which an element shows itself on the laboratory's scene. */
const PARAMS: Record<string, Record<string, unknown>> = {
  trim: { exposure: 0.4, saturation: 1.2 },
  curves: { shadows: 0.5, lightsRGB: [0.2, 0, -0.2] },
  defocus: { by: "highlights", threshold: 3 },
  plate: { footage: "itself" },
  glow: { threshold: 2 },
  star: { threshold: 3 },
  ghosts: { threshold: 3 },
  shafts: { threshold: 2 },
  dirt: { threshold: 2 },
  halation: { threshold: 2 },
  streak: { threshold: 3 },
  axialColour: { threshold: 2 },
  monochrome: { filter: "yellow", highlights: [1.1, 1, 0.9] },
  steady: { track: "track-1", fit: "keep" },
};

/** Something that shakes by a few pixels, about the scene's middle. */
export const shaking: Track = {
  id: "track-1",
  name: "Shaking",
  model: "similarity",
  reference: 1,
  region: { x: 0, y: 0, width: 20, height: 20 },
  first: 1,
  x: Array.from({ length: 12 }, (_, i) => 3 * Math.sin(i)),
  y: Array.from({ length: 12 }, (_, i) => 2 * Math.sin(1.7 * i)),
  scale: Array.from({ length: 12 }, () => 1),
  rotation: Array.from({ length: 12 }, (_, i) => Math.sin(2.3 * i)),
  confidence: Array.from({ length: 12 }, () => 1),
};

/** One element, set so that it shows itself. */
export const setupOf = (kind: string, more: Partial<Setup> = {}): Setup => ({ kind, params: PARAMS[kind], ...more });

/** A look of one element that shows itself, on a lens that has what it needs. */
export const looking = (kind: string, more: Partial<Setup> = {}) => ({
  ...lookOf([setupOf(kind, more)], { profile: LENS[kind] ?? "orrin-vale-50" }),
  tracks: [shaking],
});
