import { describe, expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../testing/laboratory";
import { LUMINANCE } from "../colour/primaries";
import { transmissionMatrix } from "../colour/spectrum";
import { frameGeometry } from "../frame/geometry";
import { illuminationAt, type LensProfile } from "../profile/lens";
import { demoProfiles } from "../../demo/glass/profiles";
import { quintic } from "./vignette/shape";
import { rmsAt } from "./grain/granularity";

const orrin = demoProfiles().find(({ id }) => id === "orrin-vale-50") as LensProfile;

test("illumination follows the profile within 0.2 %, its stops scaled by strength", () => {
  const [w, h] = [640, 360];
  const { pitchX, pitchY, axisX, axisY } = frameGeometry(w, h, { width: 24.9, height: 14 }, 1);
  const curve = illuminationAt(orrin, 50, 2.8)!;
  for (const strength of [0.5, 1, 2]) {
    const out = through(lookOf([{ kind: "illumination", strength }], { stop: 2.8 }), flat(w, h, 0.5));
    for (const [x, y] of [
      [320, 180],
      [0, 0],
      [639, 359],
      [500, 20],
      [100, 300],
      [10, 180],
    ] as const) {
      const wanted = 0.5 * curve(Math.hypot((x - axisX) * pitchX, (y - axisY) * pitchY)) ** strength;
      expect(Math.abs(at(out, x, y) / wanted - 1)).toBeLessThan(0.002);
    }
  }
});

test("between measured stops illumination is linear over the logarithm of the stop", () => {
  const [a, b, between] = [2, 2.8, Math.sqrt(2 * 2.8)].map((stop) => illuminationAt(orrin, 50, stop)!(14));
  expect(between).toBeCloseTo((a! + b!) / 2, 6);
});

describe("vignette", () => {
  const params = { inner: 40, outer: 180, aspect: 1.4, exposure: -2 };
  const [w, h] = [640, 360];
  const out = through(lookOf([{ kind: "vignette", params }]), flat(w, h, 1));
  test("nothing changes inside the inner line; outside it follows the quintic step of its stops", () => {
    expect(at(out, 320, 180)).toBe(1);
    for (const y of [20, 60, 100, 130]) {
      const rho = Math.hypot((320 - 319.5) / (0.2 * h * 1.4), (y - 179.5) / (0.2 * h));
      expect(Math.log2(at(out, 320, y))).toBeCloseTo(-2 * quintic((rho - 1) / (180 / 40 - 1)), 3);
    }
  });
  test("no line shows: the second difference along a row has no step", () => {
    const row = Array.from({ length: w }, (_, x) => Math.log2(at(out, x, 180)));
    const second = row.slice(1, -1).map((v, i) => row[i]! - 2 * v + row[i + 2]!);
    const third = second.slice(1).map((v, i) => Math.abs(v - second[i]!));
    expect(Math.max(...third)).toBeLessThan(4e-5);
  });
  test("a squarer shape reaches further into its corners than an ellipse", () => {
    const square = through(lookOf([{ kind: "vignette", params: { ...params, roundness: 0 } }]), flat(w, h, 1));
    expect(at(square, 430, 110)).toBeGreaterThan(at(out, 430, 110));
    expect(at(square, 320, 20)).toBeCloseTo(at(out, 320, 20), 2);
  });
});

describe("transmission", () => {
  test("a grey filter is a plain factor, to the strength it is raised to", () => {
    const m = transmissionMatrix(() => 0.5);
    for (const [i, value] of m.entries()) expect(value).toBeCloseTo(i % 4 === 0 ? 0.5 : 0, 9);
  });
  test("two passes at strength 1 are close to one at strength 2, and warm glass takes blue", () => {
    const source = flat(16, 16, [0.4, 0.4, 0.4]);
    const twice = through(lookOf([{ kind: "transmission" }, { kind: "transmission" }]), source);
    const square = through(lookOf([{ kind: "transmission", strength: 2 }]), source);
    for (const c of [0, 1, 2]) expect(Math.abs(at(square, 5, 5, c) / at(twice, 5, 5, c) - 1)).toBeLessThan(0.02);
    expect(at(square, 5, 5, 2)).toBeLessThan(at(square, 5, 5, 0));
  });
  test("keeping exposure keeps the luminance of white", () => {
    const out = through(
      lookOf([{ kind: "transmission", strength: 2, params: { keepExposure: true, warmth: 0.4 } }]),
      flat(16, 16, 1),
    );
    expect([0, 1, 2].reduce((sum, c) => sum + LUMINANCE[c]! * at(out, 3, 3, c), 0)).toBeCloseTo(1, 5);
  });
});

describe("trim", () => {
  test("is slope, offset, power and saturation in closed form", () => {
    const params = {
      exposure: 0.5,
      slope: [1.1, 1, 0.9],
      offset: [0.01, 0, -0.02],
      power: [1.2, 1, 0.8],
      saturation: 0.7,
    };
    const out = through(lookOf([{ kind: "trim", params }]), flat(8, 8, [0.3, 0.2, 0.6]));
    const bent = [0.3, 0.2, 0.6].map(
      (v, c) => (v * params.slope[c]! * 2 ** 0.5 + params.offset[c]!) ** params.power[c]!,
    );
    // The ASC's weights, whatever the space.
    const grey = bent.reduce((sum, v, c) => sum + v * [0.2126, 0.7152, 0.0722][c]!, 0);
    bent.forEach((v, c) => expect(at(out, 2, 2, c)).toBeCloseTo(grey + 0.7 * (v - grey), 5));
  });
  test("one stop is a factor of two, exactly, and light below zero survives", () => {
    const out = through(lookOf([{ kind: "trim", params: { exposure: 1 } }]), flat(8, 8, [-0.25, 0.5, 100]));
    expect([at(out, 0, 0, 0), at(out, 0, 0, 1), at(out, 0, 0, 2)]).toEqual([-0.5, 1, 200]);
  });
});

describe("grain", () => {
  const params = { size: 20, shadow: 24, middle: 16, highlight: 6, correlation: 0.3 };
  const sensor = { width: 24.9, height: 14 };
  const grainy = (light: number, frame = 1, width = 768, height = 432, more = {}) =>
    through(lookOf([{ kind: "grain", params: { ...params, ...more } }], {}, sensor), flat(width, height, light), {
      frame,
    });
  const densities = ({ data }: ReturnType<typeof through>, channel: number) =>
    Array.from({ length: data.length / 4 }, (_, i) => -Math.log10(data[i * 4 + channel]!));
  const deviation = (values: number[]) => {
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
  };
  /** RMS of density through a square of the 48 µm circle's area, pixels counted by the share of them inside. */
  const throughAperture = (frame: ReturnType<typeof through>, channel: number) => {
    const side = (0.048 * Math.sqrt(Math.PI)) / 2 / (sensor.height / frame.height);
    const whole = Math.ceil(side);
    const weights = Array.from({ length: whole }, (_, i) => Math.min(1, side - i));
    const d = densities(frame, channel);
    const means: number[] = [];
    for (let y = 0; y + whole < frame.height; y += whole + 4)
      for (let x = 0; x + whole < frame.width; x += whole + 4) {
        let sum = 0;
        for (let j = 0; j < whole; j++)
          for (let i = 0; i < whole; i++) sum += d[(y + j) * frame.width + x + i]! * weights[i]! * weights[j]!;
        means.push(sum / side ** 2);
      }
    return deviation(means);
  };

  test.each([-5, -2, 0, 2, 4])("RMS at %d stops is within 5 %% of its curve", (stops) => {
    const frames = [1, 2].map((frame) => throughAperture(grainy(0.18 * 2 ** stops, frame, 1536, 864), 1));
    const rms = Math.sqrt(frames.reduce((sum, value) => sum + value ** 2, 0) / frames.length);
    expect(Math.abs((rms * 1000) / rmsAt(params, stops) - 1)).toBeLessThan(0.05);
  });
  test("keeps the mean light", () => {
    const frame = grainy(0.18);
    for (const c of [0, 1, 2])
      expect(densities(frame, c).reduce((sum, d) => sum + 10 ** -d, 0) / (768 * 432) / 0.18).toBeCloseTo(1, 3);
  });
  test("frames are uncorrelated, and the same frame is the same", () => {
    const [a, b] = [densities(grainy(0.18, 1), 1), densities(grainy(0.18, 2), 1)];
    const [sa, sb] = [deviation(a), deviation(b)];
    const [ma, mb] = [a, b].map((values) => values.reduce((x, y) => x + y, 0) / values.length);
    const covariance = a.reduce((sum, v, i) => sum + (v - ma!) * (b[i]! - mb!), 0) / a.length;
    expect(Math.abs(covariance / (sa * sb))).toBeLessThan(0.01);
    expect(grainy(0.18, 7).data).toEqual(grainy(0.18, 7).data);
  });
  test("each layer has its share of the granularity, and keeps its mean", () => {
    const frame = grainy(0.18, 1, 768, 432, { layers: [0.5, 1, 2] });
    const [r, g, b] = [0, 1, 2].map((channel) => deviation(densities(frame, channel))) as [number, number, number];
    expect(r / g).toBeCloseTo(0.5, 1);
    expect(b / g).toBeCloseTo(2, 1);
    for (const c of [0, 2])
      expect(densities(frame, c).reduce((sum, d) => sum + 10 ** -d, 0) / (768 * 432) / 0.18).toBeCloseTo(1, 2);
  });
  test("softness takes the finest of it and leaves the granularity", () => {
    const [hard, soft] = [0, 0.8].map((softness) => grainy(0.18, 1, 1536, 864, { softness }));
    const finest = (frame: typeof hard) => deviation(densities(frame!, 1).map((d, i, all) => d - (all[i + 1] ?? d)));
    expect(finest(soft)).toBeLessThan(0.6 * finest(hard));
    expect(Math.abs(throughAperture(soft!, 1) / throughAperture(hard!, 1) - 1)).toBeLessThan(0.1);
  });
  test("layers are as alike as asked", () => {
    const frame = grainy(0.18);
    const [r, g] = [densities(frame, 0), densities(frame, 1)];
    const [mr, mg] = [r, g].map((values) => values.reduce((x, y) => x + y, 0) / values.length);
    const covariance = r.reduce((sum, v, i) => sum + (v - mr!) * (g[i]! - mg!), 0) / r.length;
    expect(covariance / (deviation(r) * deviation(g))).toBeCloseTo(0.3, 1);
  });
  test("a frame of other pixels has the same granularity", () => {
    const [small, large] = [grainy(0.18, 1, 1280, 720), grainy(0.18, 1, 1920, 1080)].map((frame) =>
      throughAperture(frame, 1),
    );
    expect(Math.abs(small! / large! - 1)).toBeLessThan(0.06);
  });
  test("never clips or turns light negative", () => {
    const out = through(
      lookOf([{ kind: "grain", strength: 6, params }]),
      painted(128, 64, (x) => [x / 4, x / 4, x / 4]),
    );
    expect(Math.min(...out.data)).toBeGreaterThanOrEqual(0);
    expect(out.data.every(Number.isFinite)).toBe(true);
  });
});
