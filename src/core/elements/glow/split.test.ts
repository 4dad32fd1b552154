import { expect, test } from "vitest";
import { bench, numbers } from "../../../testing/laboratory";
import { PlanBuilder } from "../../engine/plan";
import { frameGeometry } from "../../frame/geometry";
import { planSplit, type Split } from "./split";

const SPLIT: Split = {
  split: "radial",
  splitAmount: 4,
  splitSteps: 11,
  splitShape: "smooth",
  splitHue: 0,
  splitSaturation: 1,
};
/** Of 11 steps a channel takes five, by a raised cosine. */
const OFFSETS = [-2 / 3, -1 / 3, 0, 1 / 3, 2 / 3];
const RAISED = OFFSETS.map((offset) => (1 + Math.cos(Math.PI * offset)) / 2);
const WEIGHTS = RAISED.map((weight) => weight / RAISED.reduce((a, b) => a + b));
const VARIANCE = OFFSETS.reduce((sum, offset, i) => sum + WEIGHTS[i]! * offset ** 2, 0);

function cubic(distance: number): number {
  const d = Math.abs(distance);
  return d < 1 ? 1 - d * d * (2.5 - 1.5 * d) : d < 2 ? 2 + d * (-4 + d * (2.5 - 0.5 * d)) : 0;
}

function mirrored(i: number, length: number): number {
  const within = ((i % (2 * length)) + 2 * length) % (2 * length);
  return within < length ? within : 2 * length - 1 - within;
}

/** Samples around a place and their weights; the cubic is widened where more than 1.15 samples go into one. */
function around(place: number, scale: number, length: number) {
  const wide = scale > 1.15 ? scale : 1;
  const taps = [];
  for (let i = Math.ceil(place - 2 * wide); i <= place + 2 * wide; i++)
    taps.push({ at: mirrored(i, length), weight: cubic((i - place) / wide) });
  const sum = taps.reduce((total, { weight }) => total + weight, 0);
  return taps.map(({ at, weight }) => ({ at, weight: weight / sum }));
}

/** Each channel drawn apart by the definition, one sample after another. */
function wanted(source: Float32Array, width: number, height: number, split: Split): Float64Array {
  const amount = (split.splitAmount / 100) * height;
  const place = (along: "across" | "down", axis: number, at: number, u: number) => {
    const one = (channel: number) =>
      split.split === "radial"
        ? axis + (at - axis) / (1 + (2 * channel * amount) / height)
        : at - (split.split === along ? channel * amount : 0);
    const [red, green, blue] = [one(1), one(0), one(-1)];
    return green + ((red + blue) / 2 - green) * (u * u - VARIANCE) + ((red - blue) / 2) * u;
  };
  const out = new Float64Array(source.length);
  const [axisX, axisY] = [(width - 1) / 2, (height - 1) / 2];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (const [c, middle] of [1, 0, -1].entries())
        OFFSETS.forEach((offset, k) => {
          const u = middle + offset;
          const [sx, sy] = [place("across", axisX, x, u), place("down", axisY, y, u)];
          const scaleX = place("across", axisX, x + 1, u) - sx;
          const scaleY = place("down", axisY, y + 1, u) - sy;
          let light = 0;
          for (const row of around(sy, scaleY, height))
            for (const column of around(sx, scaleX, width))
              light += row.weight * column.weight * source[(row.at * width + column.at) * 4 + c]!;
          out[(y * width + x) * 4 + c]! += WEIGHTS[k]! * Math.max(0, light);
        });
  return out;
}

let serial = 0;
function made(source: Float32Array, width: number, height: number, split: Split): Float32Array {
  const builder = new PlanBuilder(width, height, `split ${serial++}`);
  builder.step("apart", planSplit(builder, 0, 1, split, frameGeometry(width, height, { width: 24.9, height: 14 }, 1)));
  return new Float32Array(bench.engine.run(builder.finish(), () => source).slice().buffer);
}

test.each([
  [61, 37, { split: "radial" as const, splitAmount: 4 }],
  [64, 48, { split: "radial" as const, splitAmount: -10 }],
  [50, 33, { split: "radial" as const, splitAmount: 25 }],
  [41, 29, { split: "across" as const, splitAmount: 7 }],
  [30, 60, { split: "down" as const, splitAmount: 3.3 }],
  [3, 2, { split: "radial" as const, splitAmount: 10 }],
])("colours are drawn apart as defined, to the frame's edges: %i x %i, %o", (width, height, more) => {
  const random = numbers(11);
  const source = Float32Array.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? 1 : random() ** 3));
  const split = { ...SPLIT, ...more };
  const [own, right] = [made(source, width, height, split), wanted(source, width, height, split)];
  for (let i = 0; i < own.length; i++)
    if (i % 4 === 3) expect(own[i]).toBe(1);
    else expect(Math.abs(own[i]! - right[i]!), `sample ${i}`).toBeLessThan(2e-5);
});
