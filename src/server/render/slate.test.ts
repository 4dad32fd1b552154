import { describe, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { burnIn, takesSlate } from "./slate";

const [WIDTH, HEIGHT] = [640, 360];
const BAND = 20;
const grey = () => ({ width: WIDTH, height: HEIGHT, data: new Float32Array(4 * WIDTH * HEIGHT).fill(0.5) });
const at = { frame: 9, framesPerSecond: 24 };

test.each([
  ["out.0001.png", null, true],
  ["out.mov", null, true],
  ["out.dpx", "rec709", true],
  ["out.dpx", "log-film", false],
  ["out.tif", "linear-ap1", false],
  ["out.exr", null, false],
] as const)("%s as %s: burnt in %s", (output, encoding, burns) => {
  expect(takesSlate(output, encoding && encodingByName(encoding))).toBe(burns);
});

describe("a slate", () => {
  test("stands on a dark band at the foot; not a sample above it is touched", async () => {
    const picture = grey();
    await burnIn(picture, "TL-020 {frame} {timecode}", at);
    const above = picture.data.subarray(0, 4 * WIDTH * (HEIGHT - BAND));
    expect(above.every((code) => code === 0.5)).toBe(true);
    const band = picture.data.subarray(4 * WIDTH * (HEIGHT - BAND)).filter((_, i) => (i & 3) === 1);
    expect(Math.min(...band)).toBeCloseTo(0.15, 5);
    expect(Math.max(...band)).toBeGreaterThan(0.8);
    // Words cover a part of it, on the left.
    const lit = Array.from(band, (code, i) => (code > 0.5 ? i % WIDTH : -1)).filter((x) => x >= 0);
    expect(lit.length).toBeGreaterThan(150);
    expect(Math.max(...lit)).toBeLessThan(WIDTH / 2);
  });
  test("of the same frame is the same, of another is another; time code is the file's, or counted", async () => {
    const made = async (frame: number, timeCode?: string) => {
      const picture = grey();
      await burnIn(picture, "{timecode}", { ...at, frame, timeCode });
      return Buffer.from(picture.data.buffer).toString("base64");
    };
    const [first, again, next, said] = await Promise.all([made(9), made(9), made(10), made(1, "00:00:00:08")]);
    expect(again).toBe(first);
    expect(next === first).toBe(false);
    expect(said).toBe(first);
  });
  test("that is longer than the frame is wide is made to fit; signs of markup are letters", async () => {
    const picture = grey();
    await burnIn(picture, "<b>&".repeat(40), at);
    const band = picture.data.subarray(4 * WIDTH * (HEIGHT - BAND)).filter((_, i) => (i & 3) === 1);
    const right = Array.from(band, (code, i) => (code > 0.4 ? i % WIDTH : -1));
    expect(Math.max(...right)).toBeGreaterThan(WIDTH - 40);
    expect(Math.max(...right)).toBeLessThan(WIDTH);
  });
});
