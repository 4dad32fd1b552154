import { describe, expect, test } from "vitest";
import { at, flat, lookOf, painted, through } from "../../testing/laboratory";
import { encodingByName, ENCODINGS } from "../colour/encodings";
import { decodeImage } from "../image/decode";
import { encodeFrame, quantise } from "../image/image";
import { softTone } from "./view";

describe("the soft view", () => {
  test("keeps mid-grey, with a contrast of 1.2 there", () => {
    expect(softTone(0.18)).toBeCloseTo(0.18, 10);
    expect(Math.log2(softTone(0.18 * 1.001) / softTone(0.18 / 1.001)) / Math.log2(1.001 ** 2)).toBeCloseTo(1.2, 3);
  });
  test("reaches white at +6.5 stops, black at -8, and never turns back", () => {
    expect(softTone(0.18 * 2 ** 6.5)).toBeCloseTo(1, 6);
    expect(softTone(0.18 * 2 ** -8)).toBeCloseTo(0, 9);
    let before = -1;
    for (let stops = -9; stops < 8; stops += 0.02) {
      const value = softTone(0.18 * 2 ** stops);
      expect(value).toBeGreaterThanOrEqual(before);
      before = value;
    }
  });
  test("the kernel's table follows it", () => {
    const ramp = painted(256, 1, (x) => Array(3).fill(0.18 * 2 ** (x / 16 - 8)) as [number, number, number]);
    const out = through(lookOf([], {}, undefined, "soft"), ramp, { output: { kind: "codes" } });
    for (let x = 16; x < 250; x += 9)
      expect(at(out, x, 0)).toBeCloseTo(encodingByName("srgb").transfer.toCode(softTone(at(ramp, x, 0))), 4);
  });
  test("bright colours ease towards white", () => {
    const out = through(lookOf([], {}, undefined, "soft"), flat(8, 8, [20, 6, 3]), { output: { kind: "codes" } });
    expect(at(out, 1, 1, 2) / at(out, 1, 1, 0)).toBeGreaterThan(0.5);
  });
});

test("what a screen shows is what an 8-bit file holds, halves upward and at any width", () => {
  const bits = new Int32Array(1);
  const value = new Float32Array(bits.buffer);
  /** Neighbouring floats about the light whose code stands in the middle between two. */
  const beside = (code: number, steps: number) => {
    value[0] = encodingByName("srgb").transfer.toLight((code + 0.5) / 255);
    bits[0]! += steps;
    return value[0]!;
  };
  for (const width of [512, 33]) {
    const ramp = painted(
      width,
      250,
      (x, y) => [0, 1, 2].map((k) => beside(y + 2, 3 * (x - (width >> 1)) + k)) as [number, number, number],
    );
    const written = quantise(through(lookOf([]), ramp, { output: { kind: "codes" } }).data, "8");
    const shown = new Uint8Array(through(lookOf([]), ramp, { output: { kind: "display" } }).data.buffer);
    expect(shown.every((code, i) => (i & 3) === 3 || code === written[i])).toBe(true);
  }
});

describe.each(["8", "16"] as const)(
  "with no element on, %s display-referred code values come out as they came in",
  (depth) => {
    const top = depth === "8" ? 255 : 65535;
    const codes = depth === "8" ? new Uint8Array(256 * 4) : new Uint16Array(4096 * 4);
    for (let i = 0; i < codes.length; i += 4) {
      const t = i / 4;
      const n = codes.length / 4;
      codes.set(
        [
          Math.round((top * t) / (n - 1)),
          Math.round((top * ((t * 7) % n)) / (n - 1)),
          Math.round((top * ((t * 13) % n)) / (n - 1)),
          top,
        ],
        i,
      );
    }
    const image = {
      width: codes.length / 4,
      height: 1,
      pixels: { depth, data: codes } as { depth: "8"; data: Uint8Array },
    };

    test("through the plain view on the engine", () => {
      const { frame } = decodeImage(image, encodingByName("srgb"));
      const out = through(lookOf([]), frame, { output: { kind: "codes" } });
      expect([...quantise(out.data, depth)]).toEqual([...codes]);
    });
    test.each(["srgb", "rec709"] as const)("through the encoding %s", (name) => {
      const { frame } = decodeImage(image, encodingByName(name));
      const back = quantise(encodeFrame(frame, encodingByName(name)).data, depth);
      // A pure power has no slope limit at black: beside a bright channel, 32-bit light cannot tell its last 16-bit
      // codes apart.
      const known = (i: number) => !(name === "rec709" && depth === "16") || codes[i]! > 0.004 * top;
      expect([...back].filter((_, i) => known(i))).toEqual([...codes].filter((_, i) => known(i)));
    });
  },
);

test.each(ENCODINGS.map(({ name }) => name))("the encoding %s and its inverse leave light as it was", (name) => {
  const frame = flat(4, 4, [0.3, 0.2, 1.1]);
  const codes = encodeFrame(frame, encodingByName(name));
  const { frame: back } = decodeImage(
    { width: 4, height: 4, pixels: { depth: "float", data: codes.data } },
    encodingByName(name),
  );
  [0.3, 0.2, 1.1].forEach((value, c) => expect(at(back, 1, 1, c)).toBeCloseTo(value, 5));
});

test("published values: sRGB's break and mid-grey, BT.1886's power", () => {
  const { transfer } = encodingByName("srgb");
  expect(transfer.toLight(0.04045)).toBeCloseTo(0.0031308, 7);
  expect(transfer.toCode(0.18)).toBeCloseTo(0.46135613, 6);
  expect(encodingByName("rec709").transfer.toLight(0.5)).toBeCloseTo(0.5 ** 2.4, 9);
});
