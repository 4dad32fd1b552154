import { describe, expect, test } from "vitest";
import { painted, lookOf, through } from "../../../testing/laboratory";
import { contrastAt, measureEdge } from "../../measure/edge";
import { contrastOf, type LensProfile } from "../../profile/lens";
import { demoProfiles } from "../../../demo/glass/profiles";
import type { Frame } from "../../image/image";

const WIDTH = 1280;
const HEIGHT = 720;
const SENSOR = { width: 24.9, height: 14.00625 };
const PITCH = SENSOR.width / WIDTH;
const lens = demoProfiles().find(({ id }) => id === "orrin-vale-50") as LensProfile;
const slant = (5 * Math.PI) / 180;

/** An edge whose normal lies at `angle` through (cx, cy), by the area of each pixel it covers. */
function edge(cx: number, cy: number, angle: number): Frame {
  const [nx, ny] = [Math.cos(angle), Math.sin(angle)];
  const grid = 8;
  return painted(WIDTH, HEIGHT, (x, y) => {
    const middle = (x - cx) * nx + (y - cy) * ny;
    if (Math.abs(middle) > 1) return middle > 0 ? [0.5, 0.5, 0.5] : [0.05, 0.05, 0.05];
    let sum = 0;
    for (let k = 0; k < grid * grid; k++)
      sum +=
        (x + ((k % grid) + 0.5) / grid - 0.5 - cx) * nx + (y + (Math.floor(k / grid) + 0.5) / grid - 0.5 - cy) * ny > 0
          ? 0.5
          : 0.05;
    const v = sum / (grid * grid);
    return [v, v, v];
  });
}

function region({ data }: Frame, cx: number, cy: number) {
  const [w, h] = [72, 72];
  const [left, top] = [Math.round(cx - w / 2), Math.round(cy - h / 2)];
  return {
    width: w,
    height: h,
    data: Float64Array.from(
      { length: w * h },
      (_, i) => data[((top + Math.floor(i / w)) * WIDTH + left + (i % w)) * 4 + 1]!,
    ),
  };
}

const PLACES = [
  ["centre", 0, 0],
  ["half field", 320, 0],
  ["half field, slanting", 300, 140],
  ["corner", 590, 320],
  ["edge, below", 0, 310],
] as const;
/** Cycles/px: to 0.8 of Nyquist. */
const FREQUENCIES = [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4];

describe.each(PLACES)("a slanted edge at the %s", (_, x, y) => {
  test.each([
    ["meridional", 1],
    ["sagittal", 1],
    ["meridional", 0.5],
    ["sagittal", 0.5],
    ["meridional", 2],
    ["sagittal", 2],
    ["meridional", -0.5],
    ["sagittal", -0.5],
  ] as const)("%s, strength %d: within 0.02 of the profile", (direction, strength) => {
    const wanted = contrastOf(lens, 50, 2, direction)!;
    const [cx, cy] = [(WIDTH - 1) / 2 + x, (HEIGHT - 1) / 2 + y];
    const angle = (x || y ? Math.atan2(y, x) : 0) + (direction === "meridional" ? 0 : Math.PI / 2) + slant;
    const before = edge(cx, cy, angle);
    const look = lookOf([{ kind: "sharpness", strength }], { profile: lens.id, focalLength: 50, stop: 2 }, SENSOR);
    const [was, is] = [before, through(look, before)].map((frame) => measureEdge(region(frame, cx, cy)));
    const height = Math.hypot(x, y) * PITCH;
    for (const f of FREQUENCIES) {
      const target = Math.min(wanted(f / PITCH, height) ** strength, 3);
      expect(
        Math.abs(contrastAt(is!, f) / contrastAt(was!, f) - target),
        `${f} cycles/px: ${contrastAt(is!, f) / contrastAt(was!, f)} for ${target}`,
      ).toBeLessThan(0.02);
    }
  });
});
