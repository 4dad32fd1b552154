import { type Look, lookSchema } from "../core/look/look";

/**
 * Ready-made looks on the invented glass: a name, what it is for, and what it is made of. Meant to be pulled back, not
 * up.
 */
export interface ReadyMade {
  id: string;
  look: Look;
}

type Element = { kind: string; strength?: number; params?: Record<string, unknown> };

/** What a lens does by itself: the properties its profile measures. */
const lensItself: Element[] = [
  { kind: "distortion" },
  { kind: "lateralColour" },
  { kind: "sharpness" },
  { kind: "illumination" },
  { kind: "transmission", params: { keepExposure: true } },
];
const film: Element[] = [
  { kind: "halation", strength: 0.8 },
  { kind: "grain", strength: 0.8 },
];
const filter = (kind: "diffusion" | "net" | "fog", profile: string, grade: string, strength = 1): Element => ({
  kind,
  strength,
  params: { profile, grade },
});

function ready(
  id: string,
  name: string,
  purpose: string,
  lens: [profile: string, focalLength: number, stop: number],
  squeeze: number,
  elements: Element[],
): ReadyMade {
  return {
    id,
    look: lookSchema.parse({
      format: "pale-halo-look",
      version: 1,
      name,
      purpose,
      camera: { sensor: { width: 24.9, height: 14 }, squeeze },
      lens: { profile: lens[0], focalLength: lens[1], stop: lens[2] },
      elements: elements.map((element, i) => ({ id: `${element.kind}-${i + 1}`, ...element })),
      view: { kind: "soft" },
    }),
  };
}

export const readyMadeLooks = (): ReadyMade[] => [
  ready(
    "last-service",
    "Last service",
    "Night exteriors with lamps: a pale halo, no more.",
    ["orrin-vale-35", 35, 2],
    1,
    [filter("diffusion", "milkglass", "1/8"), { kind: "veil", strength: 0.6 }, ...lensItself, ...film],
  ),
  ready(
    "warm-window",
    "Warm window",
    "Interiors by lamplight: warm scatter, warm glass.",
    ["orrin-vale-50", 50, 2],
    1,
    [filter("diffusion", "hearth", "1/4"), ...lensItself, ...film],
  ),
  ready(
    "winter-portrait",
    "Winter portrait",
    "Faces against snow: shadows kept, skin eased.",
    ["orrin-vale-85", 85, 2],
    1,
    [filter("diffusion", "sootglass", "1/4"), ...lensItself, { kind: "grain", strength: 0.7 }],
  ),
  ready("merrow-study", "Merrow study", "One subject, a background that turns.", ["merrow-85", 85, 2], 1, [
    { kind: "swirl", strength: 0.8 },
    ...lensItself,
    { kind: "grain", strength: 0.8 },
  ]),
  ready(
    "wide-carriage",
    "Wide carriage",
    "Small rooms on the 25: bent verticals, soft corners.",
    ["orrin-vale-25", 25, 2.8],
    1,
    [...lensItself, ...film],
  ),
  ready(
    "scope-night",
    "Scope night",
    "Anamorphic at night: one blue line through each lamp.",
    ["hask-scope-40", 40, 2.8],
    1,
    [{ kind: "streak", strength: 0.7 }, { kind: "ghosts", strength: 0.8 }, ...lensItself, ...film],
  ),
  ready(
    "scope-day",
    "Scope day",
    "Anamorphic by daylight: barrel, soft edges, no flare.",
    ["hask-scope-60", 60, 4],
    1,
    [{ kind: "veil", strength: 0.8 }, ...lensItself, { kind: "grain", strength: 0.7 }],
  ),
  ready(
    "scope-long",
    "Scope long",
    "Long anamorphic: faces far off, the edges falling away.",
    ["hask-scope-90", 90, 2.8],
    1,
    [...lensItself, { kind: "edgeSoftness", strength: 0.6 }, { kind: "grain", strength: 0.7 }],
  ),
  ready(
    "silk-closeup",
    "Silk close-up",
    "A net behind the lens: skin without a filter’s fog.",
    ["orrin-vale-85", 85, 2.8],
    1,
    [filter("net", "silkmesh", "fine", 0.8), ...lensItself, { kind: "grain", strength: 0.6 }],
  ),
  ready(
    "valley-fog",
    "Valley fog",
    "Air in a clear scene; with depth, near things stay clear.",
    ["orrin-vale-35", 35, 4],
    1,
    [filter("fog", "lowfog", "1/8"), ...lensItself, { kind: "tone", strength: 0.4 }, { kind: "grain", strength: 0.6 }],
  ),
  ready(
    "lantern-cross",
    "Lantern cross",
    "Four-pointed lights, for a page of a fairy tale.",
    ["orrin-vale-50", 50, 2.8],
    1,
    [
      { kind: "star", strength: 0.5, params: { points: 4, angle: 45, threshold: 4.5 } },
      ...lensItself,
      { kind: "grain", strength: 0.7 },
    ],
  ),
  ready(
    "old-stock",
    "Old stock",
    "Halation, grain and a breath of flicker on clean glass.",
    ["plainglass-50", 50, 2.8],
    1,
    [
      ...lensItself,
      { kind: "halation", strength: 1 },
      { kind: "grain", strength: 1 },
      { kind: "flicker", strength: 0.4 },
      { kind: "tone", strength: 0.4 },
    ],
  ),
  ready(
    "tunnel-light",
    "Tunnel light",
    "Out of the dark: veil and axial colour at the bright edge.",
    ["orrin-vale-25", 25, 2],
    1,
    [
      { kind: "veil", strength: 0.8 },
      ...lensItself,
      { kind: "axialColour", strength: 0.6 },
      { kind: "grain", strength: 0.7 },
    ],
  ),
  ready(
    "clean-reference",
    "Clean reference",
    "Nearly nothing: to judge the others against.",
    ["plainglass-50", 50, 4],
    1,
    [...lensItself, { kind: "grain", strength: 0.5 }],
  ),
  ready(
    "dusty-glass",
    "Dusty glass",
    "A lens nobody cleaned, seen only when a lamp comes in.",
    ["orrin-vale-50", 50, 2.8],
    1,
    [{ kind: "dirt", strength: 0.5 }, ...lensItself, ...film],
  ),
];
