import { expect, test } from "vitest";
import { halved, lookOf, painted, through } from "../../testing/laboratory";
import { looking, shaking } from "../../testing/showing";
import type { Look } from "../look/look";
import { ELEMENTS } from "./registry";

const [width, height] = [1920, 1080];
/** Lamps, as Gaussians that half the size holds: place (px) and light. */
const LAMPS = [
  [300, 200, 8],
  [960, 540, 6],
  [1500, 300, 10],
  [400, 900, 5],
  [1700, 950, 9],
  [1100, 120, 7],
  [100, 600, 6],
] as const;
const LAMP_SIGMA = 3;

const full = painted(width, height, (x, y) => {
  const wave = 0.18 * (1.2 + Math.sin(x * 0.035) * Math.cos(y * 0.025)) * (1 + 0.3 * Math.sin(x * 0.21 + y * 0.13));
  const lit = (px: number, py: number, light: number) =>
    light * Math.exp(-((x - px) ** 2 + (y - py) ** 2) / (2 * LAMP_SIGMA ** 2));
  const lamp = LAMPS.reduce((sum, [px, py, light]) => sum + lit(px, py, light), 0);
  return [wave + lamp, wave * 0.8 + lamp * 0.75, wave * 0.6 + lamp * 0.5];
});
const half = halved(full);
/** m, at a place of the frame. */
const metres = (w: number, h: number) =>
  painted(w, h, (x, y) => Array(3).fill(2 + (20 * (x + 0.5)) / w + (8 * (y + 0.5)) / h) as [number, number, number]);
const [depth, halfDepth] = [metres(width, height), metres(width / 2, height / 2)];

/** Light (of mid-grey 0.18) below which differences are not looked at. */
const MIN_LIGHT = 1e-3;
const SHARE = 0.995;

/** The 99.5th percentile of the difference between a full-size frame made smaller and a half-size frame, stops. */
function differenceOf(look: Look, hasDepth: boolean): number {
  const large = halved(through(look, full, { plate: () => full, ...(hasDepth ? { depth } : {}) }));
  const small = through(look, half, { plate: () => half, ...(hasDepth ? { depth: halfDepth } : {}) });
  const stops = new Float32Array((large.data.length / 4) * 3);
  for (let i = 0, k = 0; i < large.data.length; i++) {
    if ((i & 3) === 3) continue;
    const [a, b] = [Math.max(large.data[i]!, MIN_LIGHT), Math.max(small.data[i]!, MIN_LIGHT)];
    stops[k++] = Math.abs(Math.log2(a / b));
  }
  return stops.sort()[Math.floor(SHARE * stops.length)]!;
}

/** Takes other frames of the shot, or is another pattern at every size: its granularity is what must not change. */
const APART = ["channelLag", "grain"];
const kinds = ELEMENTS.map(({ kind }) => kind).filter((kind) => !APART.includes(kind));

/** Elements as they stand, and in ways of working that are computed otherwise. */
const CASES: [string, Look, boolean][] = [
  ...kinds.map((kind): [string, Look, boolean] => [kind, looking(kind), false]),
  ["defocus by depth", lookOf([{ kind: "defocus", params: { by: "depth", focus: 9 } }]), true],
  ["fog by depth", lookOf([{ kind: "fog", params: { depth: 10 } }]), true],
  ["shafts by depth", looking("shafts"), true],
  ["a leaning glow", looking("glow", { params: { threshold: 2, aspect: 4, angle: 30 } }), false],
  ["a steeply leaning glow", looking("glow", { params: { threshold: 2, aspect: 4, angle: 70 } }), false],
  ["a glow that is split", looking("glow", { params: { threshold: 2, split: "radial", splitAmount: 2 } }), false],
  ["three streaks", looking("streak", { params: { threshold: 3, count: 3 } }), false],
  ["a turned, thick streak", looking("streak", { params: { threshold: 3, angle: 30, thickness: 0.6 } }), false],
  ["a thick star", looking("star", { params: { threshold: 3, thickness: 1 } }), false],
  ["an edge softness along the radius", looking("edgeSoftness", { params: { ratio: 3, blur: 40 } }), false],
  ["steady with a track", { ...looking("steady"), tracks: [shaking] }, false],
];

test.each(CASES)("%s is the same at half the size", (_, look, hasDepth) => {
  expect(differenceOf(look, hasDepth)).toBeLessThan(0.02);
});
