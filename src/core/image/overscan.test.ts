import { describe, expect, test } from "vitest";
import { at, lookOf, numbers, type Setup, through } from "../../testing/laboratory";
import { setupOf, shaking } from "../../testing/showing";
import type { Frame } from "./image";
import type { Look } from "../look/look";
import { canvasOf, inSteps, NO_OVERSCAN, type Overscan, overscanOf, withOverscan } from "./overscan";

const shown = { width: 160, height: 90 };
const overscan: Overscan = { left: 24, top: 16, right: 24, bottom: 16 };
const canvas = canvasOf(shown, overscan);

function noise({ width, height }: { width: number; height: number }): Frame {
  const random = numbers(3);
  const data = Float32Array.from({ length: width * height * 4 }, (_, i) => (i % 4 === 3 ? 1 : random() ** 4 * 3));
  return { width, height, data };
}

/** A look on a sensor as much larger as the canvas is: what is shown is its middle. */
const onLargerSensor = (look: Look): Look => {
  const { width, height } = look.camera.sensor;
  const sensor = {
    width: (width * canvas.width) / shown.width,
    height: (height * canvas.height) / shown.height,
  };
  return { ...look, camera: { ...look.camera, sensor } };
};

const worst = (a: Float32Array, b: Float32Array) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), 0);

test("as much of a data window is used as a lens brings in, and then whole cells of eight pixels", () => {
  const display = { left: 0, top: 0, right: 1919, bottom: 1079 };
  expect(overscanOf(display, display)).toBeNull();
  expect(overscanOf({ left: 5, top: 3, right: 1919, bottom: 1000 }, display)).toBeNull();
  const used = overscanOf({ left: -101, top: -54, right: 2018, bottom: 1079 }, display)!;
  expect(used).toEqual({ left: 101, top: 54, right: 99, bottom: 0 });
  expect(inSteps(used)).toEqual({ left: 104, top: 56, right: 104, bottom: 0 });
  expect(overscanOf({ left: -9999, top: 0, right: 1919, bottom: 1079 }, display)!.left).toBe(480);
});

test("what is not there is the mirror image of what is, and what is too much is cut off", () => {
  const row = Float32Array.of(1, 2, 3);
  const wide = withOverscan(row, { width: 3, height: 1 }, NO_OVERSCAN, { left: 2, top: 1, right: 4, bottom: 0 }, 1);
  expect([...wide]).toEqual([2, 1, 1, 2, 3, 3, 2, 1, 1, 2, 1, 1, 2, 3, 3, 2, 1, 1]);
  const back = withOverscan(wide, { width: 9, height: 2 }, { left: 2, top: 1, right: 4, bottom: 0 }, NO_OVERSCAN, 1);
  expect([...back]).toEqual([1, 2, 3]);
});

describe("light beyond the frame's edge is brought in as a larger sensor would have it", () => {
  const source = noise(canvas);
  const barrel = { kind: "distortion", params: { fit: "keep" } };
  const cases: [string, Setup[]][] = [
    ["distortion", [barrel]],
    ["lateral colour", [{ kind: "lateralColour", strength: 8 }]],
    ["illumination and distortion", [{ kind: "illumination" }, barrel]],
  ];
  test.each(cases)("%s", (_, setups) => {
    const look = lookOf(setups);
    const own = through(look, source, { overscan });
    const large = through(onLargerSensor(look), source);
    const middle = withOverscan(large.data, large, overscan, NO_OVERSCAN, 4);
    expect([own.width, own.height]).toEqual([shown.width, shown.height]);
    // Tables by image height end at the sensor's corner: they are sampled at other heights.
    expect(worst(own.data, middle)).toBeLessThan(0.05);
    const cut = through(look, { ...shown, data: withOverscan(source.data, canvas, overscan, NO_OVERSCAN, 4) });
    expect(worst(cut.data, middle)).toBeGreaterThan(0.2);
  });
});

test("a lamp just beyond the frame spills its disc and its glow into it", () => {
  const lamp = { ...canvas, data: new Float32Array(canvas.width * canvas.height * 4).fill(0.01) };
  // Two pixels beyond the left edge, half way down.
  lamp.data.set([5000, 5000, 5000, 1], (61 * canvas.width + overscan.left - 2) * 4);
  for (const setup of [
    { kind: "defocus", params: { by: "highlights", size: 1000, most: 6 } },
    { kind: "diffusion", params: { profile: "milkglass", grade: "1" } },
  ]) {
    const own = through(lookOf([setup]), lamp, { overscan });
    const cut = { ...shown, data: withOverscan(lamp.data, canvas, overscan, NO_OVERSCAN, 4) };
    expect(at(own, 0, 45), setup.kind).toBeGreaterThan(2 * at(through(lookOf([setup]), cut), 0, 45));
  }
});

test("a picture held still shows what lay beyond its edge", () => {
  const look = { ...lookOf([{ kind: "steady", params: { track: "track-1", fit: "keep" } }]), tracks: [shaking] };
  const source = noise(canvas);
  const own = through(look, source, { overscan, frame: 3 });
  const mirrored = through(
    look,
    { ...shown, data: withOverscan(source.data, canvas, overscan, NO_OVERSCAN, 4) },
    { frame: 3 },
  );
  const difference = (x: number, y: number) => Math.abs(at(own, x, y) - at(mirrored, x, y));
  expect(difference(80, 45)).toBeLessThan(1e-5);
  const edge = [0, 159].flatMap((x) => Array.from({ length: 90 }, (_, y) => difference(x, y)));
  expect(Math.max(...edge)).toBeGreaterThan(0.01);
});

describe("overscan that is the mirror image of the frame is as good as none", () => {
  const source = noise(shown);
  const mirrored = { ...canvas, data: withOverscan(source.data, shown, NO_OVERSCAN, overscan, 4) };
  const kinds = [
    "diffusion",
    "distortion",
    "illumination",
    "vignette",
    "edgeSoftness",
    "axialColour",
    "sharpness",
    "net",
    "tone",
  ];
  const area = { areas: [{ id: "a", kind: "shape", x: 10, y: -5, width: 40, height: 30, outer: 1.6 }] };
  test.each(kinds)("%s, all over and within an area", (kind) => {
    for (const where of [undefined, area]) {
      const look = lookOf([{ ...setupOf(kind), ...(where ? { where } : {}) } as Setup]);
      const [own, with_] = [through(look, source), through(look, mirrored, { overscan })];
      expect(worst(own.data, with_.data), where ? "within an area" : "all over").toBeLessThan(0.03);
    }
  });
});
