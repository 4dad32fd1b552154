import { describe, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { AP0, REC709 } from "../../core/colour/primaries";
import { encodeFrame, quantise, type Depth } from "../../core/image/image";
import type { ColourTags } from "../../formats/format";
import { guessEncoding } from "./guess-encoding";

const image = (depth: Depth, tags: ColourTags = {}, data?: Float32Array) => {
  const pixels = { depth: depth as "float", data: data ?? new Float32Array(400).fill(0.2) };
  return { pixels, info: { width: 10, height: 10, depth, channels: [], tags, text: {} } };
};
const xy = ({ red, green, blue, white }: typeof AP0) => [...red, ...green, ...blue, ...white];

test.each([
  ["half", { chromaticities: xy(AP0) }, "linear-ap0", /names AP0 primaries/],
  ["float", { chromaticities: xy(REC709) }, "linear-rec709", /BT\.709/],
  ["half", {}, "linear-rec709", /without stated primaries/],
  ["float", { chromaticities: [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8] }, "linear-ap1", /are none/],
  ["16", { cicp: { primaries: 9, transfer: 16, matrix: 0, fullRange: true } }, "pq", /H\.273 9, 16/],
  ["10", { cicp: { primaries: 9, transfer: 18, matrix: 9, fullRange: false } }, "hlg", /HLG/],
  ["8", { cicp: { primaries: 1, transfer: 1, matrix: 1, fullRange: false } }, "rec709", /BT\.709/],
  ["8", { srgb: true }, "srgb", /sRGB chunk/],
  ["16", { icc: "Display P3" }, "display-p3", /“Display P3”/],
  ["16", { icc: "DCI P3" }, "p3-d65", /“DCI P3”/],
  ["16", { cicp: { primaries: 12, transfer: 13, matrix: 0, fullRange: true } }, "display-p3", /sRGB curve/],
  ["16", { cicp: { primaries: 12, transfer: 2, matrix: 0, fullRange: true } }, "p3-d65", /P3/],
  [
    "half",
    { chromaticities: [0.73, 0.28, 0.14, 0.855, 0.1, -0.05, 0.3127, 0.329] },
    "linear-xy:0.73,0.28,0.14,0.855,0.1,-0.05,0.3127,0.329",
    /primaries that the header states/,
  ],
  ["half", { chromaticities: [0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3, 0.3] }, "linear-ap1", /are none/],
  ["16", { gamma: 1 }, "linear-rec709", /gAMA/],
  ["10", { dpx: { transfer: 1, colorimetric: 1 } }, "log-film", /printing density/],
  ["10", { dpx: { transfer: 6, colorimetric: 6 } }, "rec709", /video/],
] as const)("%s with %j is %s, and why", (depth, tags, encoding, reason) => {
  const guess = guessEncoding(image(depth, tags as ColourTags));
  expect(guess.encoding).toBe(encoding);
  expect(guess.reason).toMatch(reason);
});

describe("without tags, by what the codes look like", () => {
  const scene = Float32Array.from({ length: 40000 }, (_, i) =>
    (i & 3) === 3 ? 1 : 0.18 * 2 ** ((((i >> 2) * 37) % 110) / 10 - 7),
  );
  const codes = (encoding: "acescct" | "srgb") =>
    quantise(encodeFrame({ width: 100, height: 100, data: scene }, encodingByName(encoding)).data, "10");
  test("a flat picture of lifted blacks and held whites is taken for a log one, and said to be uncertain", () => {
    const guess = guessEncoding({ ...image("10"), pixels: { depth: "10", data: codes("acescct") as Uint16Array } });
    expect(guess.encoding).toBe("acescct");
    expect(guess.reason).toMatch(/which one is for you to say/);
  });
  test("a picture from black to white is one for a display", () => {
    expect(
      guessEncoding({ ...image("10"), pixels: { depth: "10", data: codes("srgb") as Uint16Array } }).encoding,
    ).toBe("srgb");
  });
});
