import { describe, expect, test } from "vitest";
import { at, flat, impulse, lookOf, painted, through, total } from "../../testing/laboratory";

const [width, height] = [400, 300];
const sensor = { width: 20, height: 15 };
const [axisX, axisY] = [199.5, 149.5];

describe("swirl", () => {
  /** What a point's light is spread over: mean and RMS angle about the axis, and mean distance from it, px. */
  function spreadOf(degrees: number, strength: number, x: number, y: number) {
    const look = lookOf(
      [{ kind: "swirl", strength, params: { degrees, exponent: 1, inner: 0, radial: 0 } }],
      {},
      sensor,
    );
    const out = through(
      look,
      painted(width, height, (i, j) => (Math.hypot(i - x, j - y) < 2.5 ? [1, 1, 1] : [0, 0, 0])),
    );
    const own = Math.atan2(y - axisY, x - axisX);
    let [sum, mean, squares, distance] = [0, 0, 0, 0];
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const light = at(out, i, j);
        const angle = Math.atan2(j - axisY, i - axisX) - own;
        const turned = Math.atan2(Math.sin(angle), Math.cos(angle));
        sum += light;
        mean += light * turned;
        squares += light * turned ** 2;
        distance += light * Math.hypot(i - axisX, j - axisY);
      }
    return { mean: mean / sum, rms: Math.sqrt(squares / sum - (mean / sum) ** 2), distance: distance / sum };
  }
  // The corner's angle goes with image height; angles past a quarter and a half turn go through every quadrant of the
  // cosines.
  test.each([
    [12, 1, 300, 149],
    [20, 1, 120, 90],
    [30, 2, 199, 250],
    [30, 5, 260, 100],
  ])("%i° times %d: a point is drawn out evenly over its angle, at its own distance", (degrees, strength, x, y) => {
    const h = Math.hypot(x - axisX, y - axisY);
    const whole = ((degrees * Math.PI) / 180) * strength * (h / 250);
    const { mean, rms, distance } = spreadOf(degrees, strength, x, y);
    expect(Math.abs(mean)).toBeLessThan(0.01);
    // Even over the angle, and the point's own size beside it.
    expect(Math.abs(rms / Math.hypot(whole / Math.sqrt(12), 1.25 / h) - 1)).toBeLessThan(0.04);
    expect(Math.abs(distance - h)).toBeLessThan(0.4);
  });
  test("inside the inner radius nothing moves, bit for bit", () => {
    const picture = painted(width, height, (x, y) => [(x * 7 + y * 3) % 11, x % 5, y % 3]);
    const out = through(lookOf([{ kind: "swirl", params: { degrees: 20, inner: 40 } }], {}, sensor), picture);
    for (let y = 80; y < 220; y++)
      for (let x = 130; x < 270; x++)
        if (Math.hypot(x - axisX, y - axisY) < 99) expect(at(out, x, y)).toBe(at(picture, x, y));
    expect(out.data).not.toEqual(picture.data);
  });
});

describe("shafts", () => {
  const shafts = (params: object) =>
    lookOf([{ kind: "shafts", params: { x: -20, y: -30, length: 50, fade: 0.25, gain: 100, ...params } }], {}, sensor);
  const lamp = impulse(width, height, 200, 150, 400);
  const rays = (params: object, depth?: Parameters<typeof through>[2]) => {
    const out = through(shafts(params), lamp, depth);
    for (let i = 0; i < out.data.length; i++) out.data[i]! -= lamp.data[i]!;
    return out;
  };
  const point = [axisX - 0.2 * width, axisY - 0.3 * height] as const;
  test("a ray goes from its lamp away from the point, as far as stated, fading", () => {
    const out = rays({});
    const away = [200 - point[0], 150 - point[1]] as const;
    const length = Math.hypot(...away);
    let [sum, aside] = [0, 0];
    const along = [0, 0, 0, 0];
    for (let j = 0; j < height; j++)
      for (let i = 0; i < width; i++) {
        const light = at(out, i, j);
        const t = ((i - point[0]) * away[0] + (j - point[1]) * away[1]) / length ** 2;
        sum += light;
        aside += (light * Math.abs((i - point[0]) * away[1] - (j - point[1]) * away[0])) / length;
        if (t > 0.95 && t < 2.05) along[Math.min(3, Math.max(0, Math.floor((t - 1) * 4)))]! += light;
      }
    // 0.6 % of the height to the side, up to twice as much at the end, and a pixel of the half size.
    expect(aside / sum).toBeLessThan(3.2);
    // Looked back from t over half the way to the point: a lamp at 1 reaches to 2.
    expect((along[0]! + along[1]! + along[2]! + along[3]!) / sum).toBeGreaterThan(0.97);
    expect(along[0]!).toBeGreaterThan(along[2]!);
    expect(along[3]!).toBeGreaterThan(0);
  });
  test("what stands before a ray hides all of it but the air before itself", () => {
    const open = total(rays({}, { depth: flat(width, height, 20) }));
    expect(Math.abs(open / total(rays({})) - 1)).toBeLessThan(1e-4);
    // The lamp is 20 m away; all that is beside it 5 m.
    const post = painted(
      width,
      height,
      (x, y) => Array(3).fill(Math.hypot(x - 200, y - 150) < 6 ? 20 : 5) as [number, number, number],
    );
    const beside = (out: ReturnType<typeof rays>) =>
      [
        [230, 192],
        [245, 213],
        [260, 234],
      ].reduce((sum, [x, y]) => sum + at(out, x!, y!) + at(out, x! + 1, y!) + at(out, x!, y! + 1), 0);
    const free = beside(rays({}, { depth: flat(width, height, 20) }));
    expect(free).toBeGreaterThan(0);
    const seen = (1 - Math.exp(-5 / 10)) / (1 - Math.exp(-20 / 10));
    expect(beside(rays({ air: 10 }, { depth: post })) / free).toBeCloseTo(seen, 2);
    expect(beside(rays({ air: 10, occlusion: 0.5 }, { depth: post })) / free).toBeCloseTo((1 + seen) / 2, 2);
    expect(beside(rays({ air: 500 }, { depth: post })) / free).toBeCloseTo(0.25, 1);
    expect(
      beside(
        rays(
          {},
          {
            depth: painted(
              width,
              height,
              (x, y) => Array(3).fill(Math.hypot(x - 200, y - 150) < 6 ? 20 : 80) as [number, number, number],
            ),
          },
        ),
      ) / free,
    ).toBeCloseTo(1, 3);
  });
});
