import { type Look, lookSchema } from "../core/look/look";

/** The looks the demo shots open with. */
const camera = { sensor: { width: 24.9, height: 14 } };

const upperStation: Look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Last service",
  camera,
  lens: { profile: "orrin-vale-35", focalLength: 35, stop: 2 },
  elements: [
    { id: "diffusion", kind: "diffusion", strength: 0.9, params: { profile: "milkglass", grade: "1/4" } },
    {
      id: "glow",
      kind: "glow",
      strength: 0.8,
      params: { threshold: 3.5, size: 6, falloff: 0.6, gain: 10, tintTail: [1.25, 0.9, 0.6] },
    },
    { id: "streak", kind: "streak", strength: 0.8, params: { threshold: 6, gain: 5, length: [5, 7, 10] } },
    { id: "distortion", kind: "distortion" },
    { id: "lateral", kind: "lateralColour", strength: 1 },
    { id: "illumination", kind: "illumination", strength: 0.7 },
    { id: "transmission", kind: "transmission", params: { keepExposure: true } },
    { id: "grain", kind: "grain", strength: 0.8 },
    { id: "trim", kind: "trim", params: { exposure: 0.5 } },
  ],
  view: { kind: "soft" },
});

const pinePath: Look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Lantern walk",
  camera,
  lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
  elements: [
    { id: "diffusion", kind: "diffusion", strength: 0.8, params: { profile: "hearth", grade: "1/2" } },
    { id: "distortion", kind: "distortion" },
    { id: "lateral", kind: "lateralColour" },
    { id: "illumination", kind: "illumination", strength: 0.8 },
    { id: "vignette", kind: "vignette", strength: 0.6 },
    { id: "grain", kind: "grain", strength: 0.8 },
    { id: "trim", kind: "trim", params: { exposure: 0.2, saturation: 0.95 } },
  ],
  view: { kind: "soft" },
});

const ticketWindow: Look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Brass and wool",
  camera,
  lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2.8 },
  elements: [
    { id: "diffusion", kind: "diffusion", strength: 0.6, params: { profile: "hearth", grade: "1/4" } },
    { id: "distortion", kind: "distortion" },
    { id: "lateral", kind: "lateralColour" },
    { id: "sharpness", kind: "sharpness" },
    { id: "illumination", kind: "illumination", strength: 0.8 },
    { id: "transmission", kind: "transmission", params: { keepExposure: true } },
    { id: "grain", kind: "grain", strength: 0.7 },
    { id: "trim", kind: "trim", params: { exposure: 0.5 } },
  ],
  view: { kind: "soft" },
});

const tunnelMouth: Look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Into the light",
  camera,
  lens: { profile: "orrin-vale-35", focalLength: 35, stop: 2.8 },
  elements: [
    { id: "diffusion", kind: "diffusion", strength: 0.8, params: { profile: "milkglass", grade: "1/8" } },
    { id: "distortion", kind: "distortion" },
    { id: "lateral", kind: "lateralColour", strength: 1.2 },
    { id: "sharpness", kind: "sharpness" },
    { id: "illumination", kind: "illumination", strength: 0.8 },
    { id: "grain", kind: "grain", strength: 0.8 },
    { id: "trim", kind: "trim", params: { exposure: -0.4 } },
  ],
  view: { kind: "soft" },
});

const lampRoom: Look = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Lamp oil",
  camera,
  lens: { profile: "orrin-vale-35", focalLength: 35, stop: 2 },
  elements: [
    { id: "diffusion", kind: "diffusion", strength: 0.6, params: { profile: "milkglass", grade: "1/4" } },
    {
      id: "glow",
      kind: "glow",
      strength: 0.6,
      params: { threshold: 3, size: 5, falloff: 0.6, gain: 8, tintTail: [1.2, 0.9, 0.65] },
    },
    { id: "distortion", kind: "distortion" },
    { id: "illumination", kind: "illumination", strength: 0.8 },
    { id: "grain", kind: "grain", strength: 0.7 },
  ],
  view: { kind: "soft" },
});

export const demoLooks = (): Record<string, Look> => ({
  "TL-010": upperStation,
  "TL-020": ticketWindow,
  "TL-030": pinePath,
  "TL-040": tunnelMouth,
  "TL-050": lampRoom,
});
