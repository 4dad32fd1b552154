import { describe, expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../../testing/laboratory";
import { daylight } from "../../colour/daylight";
import { AP1, LUMINANCE, toXyz } from "../../colour/primaries";
import { ACESCCT } from "../../colour/transfer/log";
import { apply, type Triple } from "../../maths/matrix";
import { definitionOf } from "../registry";
import { decisionList } from "./decision-list";

const trimmed = (params: Record<string, unknown>, light: number | [number, number, number], strength = 1): Triple => {
  const out = through(lookOf([{ kind: "trim", strength, params }]), flat(8, 8, light));
  return [at(out, 4, 4, 0), at(out, 4, 4, 1), at(out, 4, 4, 2)];
};
const defaults = (kind: string) =>
  Object.fromEntries(Object.entries(definitionOf(kind).parameters).map(([name, { default: value }]) => [name, value]));
const luminance = (light: readonly number[]) => light.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0);
const saturation = (light: readonly number[]) => (Math.max(...light) - luminance(light)) / luminance(light);

describe("white", () => {
  test("CIE daylight is the published chromaticity at 6504 K (D65) and 5003 K (D50)", () => {
    [
      [6504, 0.3127, 0.329],
      [5003, 0.3457, 0.3585],
    ].forEach(([kelvin, x, y]) =>
      daylight(kelvin!).forEach((value, i) => expect(Math.abs(value - [x!, y!][i]!)).toBeLessThan(0.0004)),
    );
  });

  test("grey moved from 6000 K to 6504 K by its mired has the chromaticity of D65, and its luminance", () => {
    const grey = trimmed({ temperature: 1e6 / 6504 - 1e6 / 6000 }, 0.18);
    const [x, y, z] = apply(toXyz(AP1), grey);
    expect(
      [x / (x + y + z), y / (x + y + z)]
        .map((value, i) => Math.abs(value - [0.3127, 0.329][i]!))
        .every((miss) => miss < 0.0008),
    ).toBe(true);
    expect(luminance(grey)).toBeCloseTo(0.18, 5);
  });

  test("more is warmer, tint takes green away, and strength scales the mired", () => {
    const warm = trimmed({ temperature: 40 }, 0.18);
    expect(warm[0]).toBeGreaterThan(0.18);
    expect(warm[2]).toBeLessThan(0.18);
    expect(trimmed({ tint: 10 }, 0.18)[1]).toBeLessThan(0.18);
    trimmed({ temperature: 20 }, 0.18, 2).forEach((value, i) => expect(value).toBeCloseTo(warm[i]!, 5));
  });
});

describe("balance and vibrance", () => {
  test.each([
    ["shadows", 0.18 / 32],
    ["middles", 0.18],
    ["highlights", 0.18 * 32],
  ] as const)("%s tint their own range, keep luminance, and hardly touch the other end", (range, light) => {
    const tint = { [range]: [1.3, 1, 0.8] };
    const own = trimmed(tint, light);
    expect(own[0] / own[2]).toBeGreaterThan(1.25);
    for (const grey of [0.18 / 32, 0.18, 0.18 * 32]) expect(luminance(trimmed(tint, grey)) / grey).toBeCloseTo(1, 4);
    const other = trimmed(tint, range === "shadows" ? 0.18 * 32 : 0.18 / 32);
    expect(other[0] / other[2]).toBeLessThan(range === "middles" ? 1.1 : 1.02);
  });

  test("vibrance gives weak colours more than strong ones and leaves grey alone", () => {
    const gain = (light: [number, number, number]) => saturation(trimmed({ vibrance: 0.6 }, light)) / saturation(light);
    expect(gain([0.2, 0.18, 0.17])).toBeGreaterThan(gain([0.4, 0.15, 0.05]) + 0.1);
    trimmed({ vibrance: 0.6 }, 0.3).forEach((value) => expect(value).toBeCloseTo(0.3, 5));
  });
});

describe("a colour decision list", () => {
  test("saturation of 0 is the ASC's grey in every channel", () => {
    const light: [number, number, number] = [0.5, 0.2, 0.1];
    const grey = light.reduce((sum, value, c) => sum + value * [0.2126, 0.7152, 0.0722][c]!, 0);
    trimmed({ saturation: 0 }, light).forEach((value) => expect(value).toBeCloseTo(grey, 5));
  });

  const list = { slope: [1.2, 0.9, 1.05], offset: [0.02, -0.01, 0.03], power: [0.9, 1.1, 1.2], saturation: 1.6 };
  // Code values through the same list by Debian's opencolorio-tools 2.1: ociochecklut list.cc R G B.
  test.each([
    [
      [0.4135884, 0.4135884, 0.4135884],
      [0.6545023, 0.2955611, 0.4091088],
    ],
    [
      [0.55, 0.3, 0.2],
      [0.935303, 0.1680955, 0.09317453],
    ],
    [
      [0.2, 0.5, 0.7],
      [0.232698, 0.4052218, 0.9168587],
    ],
    [
      [0.8, 0.75, 0.1],
      [1.168034, 0.6183288, -0.2584196],
    ],
  ])("acts in its working space as OpenColorIO has it, within 1 of 1023: %j", (codes, wanted) => {
    const light = codes.map(ACESCCT.toLight) as [number, number, number];
    trimmed({ ...list, space: "acescct" }, light)
      .map(ACESCCT.toCode)
      .forEach((code, c) => expect(Math.abs(code - wanted[c]!)).toBeLessThan(1 / 1023));
    trimmed(list, codes as [number, number, number]).forEach((value, c) =>
      expect(Math.abs(value - wanted[c]!)).toBeLessThan(1 / 1023),
    );
  });

  test("that does nothing leaves light alone in any space, and exposure stays a matter of light", () => {
    trimmed({ space: "acescct" }, [0.3, 0.2, 50]).forEach((value, c) =>
      expect(Math.abs(value / [0.3, 0.2, 50][c]! - 1)).toBeLessThan(5e-7),
    );
    trimmed({ space: "acescct", exposure: 2 }, [0.3, 0.2, 50]).forEach((value, c) =>
      expect(value).toBeCloseTo([1.2, 0.8, 200][c]!, 4),
    );
  });

  test("goes out as it acts at its strength, and says what it has no place for", () => {
    const values = { ...defaults("trim"), ...list, exposure: 1 } as unknown as Parameters<typeof decisionList>[0];
    const inLight = decisionList(values, 0.5);
    expect(inLight.leftOut).toEqual([]);
    inLight.list.slope.forEach((value, c) => expect(value).toBeCloseTo(Math.sqrt(2 * list.slope[c]!), 9));
    expect(inLight.list.saturation).toBeCloseTo(1.3, 9);
    const inLog = decisionList({ ...values, space: "acescct", vibrance: 0.2 }, 1);
    expect(inLog.list.slope).toEqual(list.slope);
    expect(inLog.leftOut.join()).toMatch(/exposure.*vibrance/);
  });
});

describe("single hues", () => {
  const red: [number, number, number] = [0.6, 0.1, 0.1],
    green: [number, number, number] = [0.1, 0.6, 0.1],
    blue: [number, number, number] = [0.1, 0.1, 0.6];
  const hueOf = ([r, g, b]: readonly number[]) =>
    (Math.atan2(Math.sqrt(3) * (g! - b!), 2 * r! - g! - b!) * 180) / Math.PI;

  test("one hue's saturation leaves the others, grey, and luminance as they are", () => {
    const params = { saturationRGB: [0.4, 1, 1] };
    const eased = trimmed(params, red);
    expect(saturation(eased) / saturation(red)).toBeCloseTo(0.4, 1);
    expect(luminance(eased)).toBeCloseTo(luminance(red), 5);
    for (const other of [
      green,
      blue,
      [0.3, 0.3, 0.3] as [number, number, number],
      [0.1, 0.5, 0.5] as [number, number, number],
    ])
      trimmed(params, other).forEach((value, i) => expect(value).toBeCloseTo(other[i]!, 5));
  });

  test("one hue turns by its angle, at its luminance, and strength scales the angle", () => {
    for (const [strength, degrees] of [
      [1, 20],
      [0.5, 10],
    ] as const) {
      const turned = trimmed({ hueRGB: [20, 0, 0] }, red, strength);
      expect(Math.abs(hueOf(turned) - degrees)).toBeLessThan(4);
      expect(luminance(turned)).toBeCloseTo(luminance(red), 5);
    }
    trimmed({ hueRGB: [20, 0, 0] }, blue).forEach((value, i) => expect(value).toBeCloseTo(blue[i]!, 5));
  });

  test("around the wheel the change is smooth: no step between neighbouring hues", () => {
    const wheel = Array.from(
      { length: 720 },
      (_, i): [number, number, number] =>
        [0, 120, 240].map((lead) => 0.3 + 0.2 * Math.cos((i / 2 - lead) * (Math.PI / 180))) as [number, number, number],
    );
    const out = through(
      lookOf([{ kind: "trim", params: { saturationRGB: [0, 1, 2], hueCMY: [30, 0, -30] } }]),
      painted(720, 1, (x) => wheel[x]!),
    );
    const steps = wheel.map((_, x) =>
      Math.max(...[0, 1, 2].map((c) => Math.abs(at(out, (x + 1) % 720, 0, c) - at(out, x, 0, c)))),
    );
    expect(Math.max(...steps)).toBeLessThan(0.02);
  });
});
