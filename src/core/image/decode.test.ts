import { describe, expect, test } from "vitest";
import { encodingByName } from "../colour/encodings";
import { SRGB } from "../colour/transfer/display";
import { cleanedText } from "./clean";
import { decodeImage } from "./decode";
import { encodeFrame, type RawImage } from "./image";

const image = (data: number[], more: Partial<RawImage> = {}): RawImage => ({
  width: data.length / 4,
  height: 1,
  pixels: { depth: "float", data: Float32Array.from(data) },
  ...more,
});
const linear = encodingByName("linear-ap1");

describe("alpha", () => {
  test("light that is not multiplied by it is, after it was decoded; light that is stays", () => {
    const codes: RawImage = {
      width: 1,
      height: 1,
      pixels: { depth: "8", data: Uint8Array.of(188, 188, 188, 128) },
      alpha: "unassociated",
    };
    const { frame } = decodeImage(codes, encodingByName("srgb"));
    expect(frame.data[1]).toBeCloseTo((SRGB.toLight(188 / 255) * 128) / 255, 5);
    expect(decodeImage(image([0.6, 0.6, 0.6, 0.5], { alpha: "associated" }), linear).frame.data[0]).toBeCloseTo(0.6, 6);
    expect(decodeImage(image([0.6, 0.6, 0.6, 0.5], { alpha: "unassociated" }), linear).frame.data[0]).toBeCloseTo(
      0.3,
      6,
    );
  });
  test("goes out as it came in, in an encoding that is no light", () => {
    const srgb = encodingByName("srgb");
    const codes = [0.2, 0.5, 0.9, 0.25, 0.4, 0.3, 0.1, 1, 0, 0, 0, 0];
    const { frame } = decodeImage(image(codes, { alpha: "unassociated" }), srgb);
    encodeFrame(frame, srgb, "unassociated").data.forEach((value, i) => expect(value).toBeCloseTo(codes[i]!, 4));
  });
});

test("infinite light is the largest half, what is no number 0, and both are counted and told", () => {
  const { frame, cleaned } = decodeImage(image([Infinity, NaN, -Infinity, 1, 70000, -5, 1e30, 1]), linear);
  expect([...frame.data]).toEqual([65504, 0, 0, 1, 70000, -5, 2 ** 40, 1].map(Math.fround));
  expect(cleaned).toEqual({ notNumbers: 1, infinite: 2 });
  expect(cleanedText(cleaned)).toBe("2 infinite samples are taken as 65504, 1 sample that is no number is taken as 0");
  expect(cleanedText({ notNumbers: 0, infinite: 0 })).toBeNull();
});
