import { expect, test } from "vitest";
import { at, impulse, lookOf, through, total } from "../../../testing/laboratory";
import { lensSchema } from "../../profile/lens";

const [width, height] = [1280, 720];
const origin = { origin: { kind: "computed", by: "test" } };
const lens = (factor: number, defocus: number) =>
  lensSchema.parse({
    format: "pale-halo-lens",
    version: 1,
    id: "trial",
    name: "Trial",
    ghosts: [{ factor, gain: 10, defocus, tint: [1, 1, 0.5], ...origin }],
  });

/** The ghost of a lamp alone: what the element added. */
function ghostOf(factor: number, defocus: number, x: number, y: number) {
  const lamp = impulse(width, height, x, y, 4000);
  const out = through(lookOf([{ kind: "ghosts", params: { catEye: 100 } }], { profile: "trial" }), lamp, {
    profiles: [lens(factor, defocus)],
  });
  for (let i = 0; i < out.data.length; i++) out.data[i]! -= lamp.data[i]!;
  return out;
}

test.each([
  [-0.55, 200],
  [-1.1, 300],
  [0.4, 150],
  [1.7, 400],
])(
  "a ghost of factor %d stands at its place on the line through the axis, as a disc of its defocus",
  (factor, defocus) => {
    const [x, y] = [500, 300];
    const out = ghostOf(factor, defocus, x, y);
    let [sx, sy, sum] = [0, 0, 0];
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const light = at(out, i, j);
        sx += i * light;
        sy += j * light;
        sum += light;
      }
    // Within a tenth of a pixel of the size it is drawn at.
    const near = 0.4 * Math.max(1, Math.abs(factor));
    expect(Math.abs(sx / sum - (639.5 + factor * (x - 639.5)))).toBeLessThan(near);
    expect(Math.abs(sy / sum - (359.5 + factor * (y - 359.5)))).toBeLessThan(near);
    const radius = defocus / 1000 / (24.9 / width);
    // Scaled by the factor and drawn at a quarter of the size, so its edge is some pixels wide.
    const edge = radius + 8 * Math.max(1, Math.abs(factor));
    let outside = 0;
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) if (Math.hypot(i - sx / sum, j - sy / sum) > edge) outside += at(out, i, j);
    expect(outside / sum).toBeLessThan(0.02);
    expect(total(out, 2) / total(out, 1)).toBeCloseTo(0.5, 3);
  },
);

test("its light is its gain of the keyed light, whatever its factor and defocus", () => {
  const sums = [
    [0.4, 150],
    [0.4, 300],
    [0.8, 300],
    [-0.8, 300],
  ].map(([factor, defocus]) => total(ghostOf(factor!, defocus!, 600, 340)));
  for (const sum of sums) expect(Math.abs(sum / sums[0]! - 1)).toBeLessThan(0.03);
});
