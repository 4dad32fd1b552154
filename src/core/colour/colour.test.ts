import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { ENCODINGS, encodingByName, type EncodingName } from "./encodings";
import { logEncoding, logEncodingSchema } from "./own-encoding";
import { AP0, AP1, conversion, REC709 } from "./primaries";

const curve = (name: EncodingName) => encodingByName(name).transfer;

describe("published values", () => {
  test.each([
    // Academy S-2016-001, S-2014-003
    ["acescct", 0.18, 0.4135884],
    ["acescct", 0.0078125, 0.155251141],
    ["acescct", 0, 0.0729055342],
    ["acescct", 65504, 1.467996],
    ["acescc", 0.18, 0.4135884],
    ["acescc", 0, -0.3584474886],
    ["acescc", 2 ** -15, (-15 + 9.72) / 17.52],
    // ST 2084: 10 000, 1000 and 100 cd/m²; ITU-R BT.2408: reference white at 58 %
    ["pq", 10000 / 203, 1],
    ["pq", 1000 / 203, 0.7518271],
    ["pq", 100 / 203, 0.5080784],
    ["pq", 1, 0.5806888],
    // ITU-R BT.2100: the curve's break at 1/12 of the range, the top at 1; BT.2408: reference white at 75 %
    ["hlg", 1, 0.75],
    ["hlg", 1 / 12 / 0.26496256, 0.5],
    ["hlg", 1 / 0.26496256, 1],
    // SMPTE 268M printing density: base 95, white 685 of 1023
    ["log-film", 1, 685 / 1023],
    ["log-film", 0, 95 / 1023],
    // IEC 61966-2-1, BT.1886, RP 431-2
    ["srgb", 0.18, 0.46135613],
    ["srgb", 0.0031308, 0.04045],
    ["rec709", 0.5 ** 2.4, 0.5],
    ["rec2020", 0.25 ** 2.4, 0.25],
    ["p3-d65", 0.5 ** 2.6, 0.5],
  ] as const)("%s: light %d is code %d", (name, light, code) => {
    expect(Math.abs(curve(name).toCode(light) - code)).toBeLessThan(2e-6);
  });
  test("BT.709 to working light and AP1 to AP0, as ACES publishes them", () => {
    const to = conversion(REC709, AP1);
    [0.613097, 0.339523, 0.047379, 0.070194, 0.916354, 0.013452, 0.020616, 0.10957, 0.869815].forEach((value, i) =>
      expect(to[i]).toBeCloseTo(value, 4),
    );
    const ap0 = conversion(AP1, AP0);
    [
      0.6954522414, 0.1406786965, 0.1638690622, 0.0447945634, 0.8596711185, 0.0955343182, -0.0055258826, 0.0040252103,
      1.0015006723,
    ].forEach((value, i) => expect(ap0[i]).toBeCloseTo(value, 6));
  });
  test("white stays white in every encoding", () => {
    for (const { toWorking } of ENCODINGS)
      if (toWorking)
        for (const row of [0, 3, 6])
          expect(toWorking[row]! + toWorking[row + 1]! + toWorking[row + 2]!).toBeCloseTo(1, 9);
  });
});

describe.each(ENCODINGS.map(({ name }) => name))("%s", (name) => {
  test("every code of 16 bits comes back from light", () => {
    const { toLight, toCode } = curve(name);
    for (let code = 0; code <= 65535; code += 7)
      expect(Math.abs(toCode(toLight(code / 65535)) - code / 65535) * 65535).toBeLessThan(1e-3);
  });
  test("rises everywhere", () => {
    const { toLight } = curve(name);
    let before = -Infinity;
    for (let code = 0; code <= 4095; code++) {
      const light = toLight(code / 4095);
      // A display's curve may rest at black; nothing ever turns back.
      expect(light).toBeGreaterThanOrEqual(before);
      before = light;
    }
  });
});

describe("the open log form", () => {
  const made = logEncodingSchema.parse({
    format: "pale-halo-encoding",
    version: 1,
    id: "made",
    name: "Made",
    kind: "log",
    log: {
      base: 10,
      logSideSlope: 0.25,
      logSideOffset: 0.38,
      linSideSlope: 5.5,
      linSideOffset: 0.06,
      linSideBreak: 0.01,
    },
    matrix: [
      [0.7, 0.2, 0.1],
      [0.05, 0.9, 0.05],
      [0, 0.1, 0.9],
    ],
  });
  const { transfer } = logEncoding(made as Parameters<typeof logEncoding>[0]);
  test("is smooth at its break and comes back", () => {
    const slope = (light: number) => (transfer.toCode(light + 1e-7) - transfer.toCode(light - 1e-7)) / 2e-7;
    expect(slope(0.01 - 1e-4) / slope(0.01 + 1e-4)).toBeCloseTo(1, 2);
    fc.assert(
      fc.property(
        fc.double({ min: -0.05, max: 60, noNaN: true }),
        (light) => Math.abs(transfer.toLight(transfer.toCode(light)) - light) < 1e-9 * Math.max(1, Math.abs(light)),
      ),
    );
  });
  test("a curve without a logarithm at its break, or a matrix without an inverse, is refused by its field", () => {
    const refuse = (change: object) =>
      logEncodingSchema.safeParse({ ...made, ...change }).error?.issues[0]?.path.join(".");
    expect(refuse({ log: { ...made.log, linSideBreak: -1 } })).toBe("log.linSideBreak");
    expect(
      refuse({
        matrix: [
          [1, 0, 0],
          [1, 0, 0],
          [0, 0, 1],
        ],
      }),
    ).toBe("matrix");
  });
});
