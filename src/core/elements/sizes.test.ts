import { expect, test } from "vitest";
import { halved, scene, through } from "../../testing/laboratory";
import { looking } from "../../testing/showing";

const full = scene(960, 540);
const half = halved(full);

/** Light (of mid-grey 0.18) below which differences are not looked at. */
const LEAST_LIGHT = 1e-3;
const SHARE = 0.995;

/** The 99.5th percentile of the difference between a full-size frame made smaller and a half-size frame, stops. */
function differenceOf(kind: string): number {
  const look = looking(kind);
  const [large, small] = [halved(through(look, full)), through(look, half)];
  const stops = large.data.map((value, i) =>
    Math.abs(Math.log2(Math.max(value, LEAST_LIGHT) / Math.max(small.data[i]!, LEAST_LIGHT))),
  );
  return stops.filter((_, i) => (i & 3) < 3).sort()[Math.floor(SHARE * 0.75 * stops.length)]!;
}

// Elements that spread light or fall on it evenly; what works on the finest detail a frame holds has more of it at full size.
test.each([
  "diffusion",
  "fog",
  "net",
  "star",
  "glow",
  "shafts",
  "dirt",
  "veil",
  "ghosts",
  "streak",
  "illumination",
  "vignette",
  "transmission",
  "halation",
  "trim",
  "tone",
  "curves",
])("%s is the same at half the size", (kind) => {
  expect(differenceOf(kind)).toBeLessThan(0.02);
});
