import { expect, test } from "vitest";
import { at, flat, halved, impulse, lookOf, painted, through, total } from "../../../testing/laboratory";
import { takenLight } from "../key";
import { streakProfile } from "./streak";

const params = {
  threshold: 3,
  knee: 1,
  limit: 16,
  length: [8, 8, 8],
  tail: 0,
  thickness: 0.5,
  gain: 20,
  tint: [1, 1, 1],
  tintTail: [1, 1, 1],
  surround: "black",
};
const [width, height] = [960, 400];
const lamp = 4000;
const taken = takenLight({ channel: "maximum", threshold: 3, knee: 1, limit: 16 }, lamp);
const columns = (out: ReturnType<typeof through>, x: number) =>
  Array.from({ length: height }, (_, y) => at(out, x, y)).reduce((a, b) => a + b, 0);

test.each([0, 0.4])("light along the line follows the exponential and its tail (tail %d)", (tail) => {
  const out = through(
    lookOf([{ kind: "streak", params: { ...params, tail } }]),
    impulse(width, height, 480, 200, lamp),
  );
  const length = 0.08 * width;
  for (const d of [12, 40, 77, 150, 300]) {
    const wanted = (0.2 * taken * streakProfile(d / length, tail)) / length;
    expect(Math.abs(columns(out, 480 + d) / wanted - 1), `${d} px`).toBeLessThan(0.03);
    expect(Math.abs(columns(out, 480 - d) / columns(out, 480 + d) - 1)).toBeLessThan(0.03);
  }
});

test("the line is a Gaussian of the stated thickness across", () => {
  const out = through(lookOf([{ kind: "streak", params }]), impulse(width, height, 480, 200, lamp));
  const column = Array.from({ length: height }, (_, y) => at(out, 540, y));
  const sum = column.reduce((a, b) => a + b, 0);
  const variance = column.reduce((s, v, y) => s + v * (y - 200) ** 2, 0) / sum;
  expect(Math.sqrt(variance)).toBeCloseTo(0.005 * height, 1);
});

test.each([
  ["streak", { ...params, angle: 0.5, thickness: 1 }, 1],
  ["streak", { ...params, count: 3, thickness: 1 }, 1],
  ["streak", { ...params, count: 2, angle: 20, thickness: 3 }, 3],
  ["star", { points: 2, angle: 0, threshold: 3, knee: 1, limit: 16, length: 20, thickness: 2, dispersion: 0 }, 2],
])("turned lines, several, and a star's arms are as thick as asked, however thick: %s %j", (kind, own, percent) => {
  const [w, h] = [1920, 1080];
  const { angle = 0 } = own as { angle?: number };
  const spot = impulse(w, h, 960, 540, lamp);
  const look = lookOf([{ kind, params: own }]);
  const out = through(look, spot);
  // Across the first line, well away from the others.
  const turn = (angle * Math.PI) / 180;
  const [x, y0] = [960 + Math.round(330 * Math.cos(turn)), 540 + Math.round(330 * Math.sin(turn))];
  let [sum, moment] = [0, 0];
  for (let d = -110; d <= 110; d++) {
    const light = at(out, x, y0 + d);
    sum += light;
    moment += light * (d * Math.cos(turn)) ** 2;
  }
  expect(Math.sqrt(moment / sum) / ((percent / 100) * h)).toBeGreaterThan(0.95);
  expect(Math.sqrt(moment / sum) / ((percent / 100) * h)).toBeLessThan(1.06);
});

test("channels have their own lengths, and all of the light arrives", () => {
  const out = through(
    lookOf([{ kind: "streak", params: { ...params, length: [1, 2, 4] } }]),
    impulse(width, height, 480, 200, lamp),
  );
  for (const channel of [0, 1, 2]) expect((total(out, channel) - lamp) / (0.2 * taken)).toBeCloseTo(1, 2);
  expect(at(out, 480 + 150, 200, 2)).toBeGreaterThan(10 * at(out, 480 + 150, 200, 0));
});

test("a lamp moved by a pixel draws the same line, moved", () => {
  const line = (x: number) => through(lookOf([{ kind: "streak", params }]), impulse(width, height, x, 200, lamp));
  const here = line(480);
  for (const step of [1, 2, 3])
    for (const d of [20, 60, 200])
      expect(Math.abs(at(line(480 + step), 480 + step + d, 200) / at(here, 480 + d, 200) - 1)).toBeLessThan(0.02);
});

test("half the size draws the same line, and dim light draws none", () => {
  const lamps = painted(width, height, (x, y) =>
    Math.abs(x - 479.5) < 6 && Math.abs(y - 199.5) < 6 ? [60, 60, 60] : [0.1, 0.1, 0.1],
  );
  const look = lookOf([{ kind: "streak", params: { ...params, thickness: 1 } }]);
  const small = through(look, halved(lamps));
  const full = halved(through(look, lamps));
  for (const x of [260, 300, 360]) expect(Math.abs(at(small, x, 100) / at(full, x, 100) - 1)).toBeLessThan(0.02);
  const dim = flat(200, 100, 0.5);
  expect(through(look, dim).data).toEqual(dim.data);
});

test("turned and in threes: lines lie at their angles and share the light, and the tail has its own colour", () => {
  const out = through(
    lookOf([
      {
        kind: "streak",
        params: { ...params, length: [3, 3, 3], tail: 0.4, tintTail: [0.2, 1, 2], angle: 30, count: 3 },
      },
    ]),
    impulse(480, 480, 240, 240, lamp),
  );
  const lightAt = (degrees: number, d: number, channel = 1) => {
    const [cx, cy] = [240 + d * Math.cos((degrees * Math.PI) / 180), 240 + d * Math.sin((degrees * Math.PI) / 180)].map(
      Math.round,
    ) as [number, number];
    let sum = 0;
    for (let y = -3; y <= 3; y++) for (let x = -3; x <= 3; x++) sum += at(out, cx + x, cy + y, channel);
    return sum;
  };
  for (const degrees of [30, 90, 150, 210]) {
    expect(lightAt(degrees, 60)).toBeGreaterThan(20 * lightAt(degrees + 30, 60));
    expect(Math.abs(lightAt(degrees, 60) / lightAt(30, 60) - 1)).toBeLessThan(0.1);
  }
  expect(lightAt(30, 90, 2) / lightAt(30, 90, 0)).toBeGreaterThan(3 * (lightAt(30, 8, 2) / lightAt(30, 8, 0)));
  const loss = (lamp + 0.2 * taken - total(out)) / (0.2 * taken);
  expect(loss).toBeGreaterThan(-0.01);
  expect(loss).toBeLessThan(0.05);
});

test.each(["screen", "lighten", "soft", "overlay", "dodge"] as const)(
  "laid over by %s, it brightens, and only where its light falls",
  (lay) => {
    const scene = painted(320, 180, (x, y) =>
      Math.hypot(x - 160, y - 90) < 3 ? [30, 28, 24] : [0.05 + x / 2000, 0.06, 0.04 + y / 3000],
    );
    const run = (more: Record<string, unknown>) =>
      through(lookOf([{ kind: "streak", params: { threshold: 4, gain: 40, rollOff: undefined, ...more } }]), scene);
    const [added, laid] = [run({}), run({ lay })];
    let brighter = 0;
    const wrong = { darker: 0, unlike: 0, elsewhere: 0 };
    for (let i = 0; i < scene.data.length; i += 4)
      for (let c = 0; c < 3; c++) {
        const [under, line] = [scene.data[i + c]!, added.data[i + c]! - scene.data[i + c]!];
        const out = laid.data[i + c]!;
        if (!(out >= under * (1 - 1e-4) - 1e-6)) wrong.darker++;
        if (lay === "lighten" && !(Math.abs(out - Math.max(under, line)) < 1e-4 * (1 + line + under))) wrong.unlike++;
        if (out > under * 1.001) brighter++;
        if (line < 1e-7 && !(Math.abs(out - under) < 1e-5)) wrong.elsewhere++;
      }
    expect(wrong).toEqual({ darker: 0, unlike: 0, elsewhere: 0 });
    expect(brighter).toBeGreaterThan(100);
  },
);
