/** A scene through a filter, by the definition of its profile: light scattered pixel by pixel, as a Fourier product. */
import type { Frame } from "../../core/image/image";
import { type Grade, spreadCurve } from "../../core/profile/filter";
import { convolved } from "./fft";
import { CHANNELS } from "./through-lens";

/** Near its middle the spread is averaged over a pixel by this many samples in each direction. */
const SAMPLES = 15;
const NEAR = 6;
const DEGREES = 180 / Math.PI;

/** Samples of the spread on a plane of `size` pixels, its middle at the first, all of it 1. */
function kernelOf(grade: Grade, channel: (typeof CHANNELS)[number], size: number, pitch: number, focalLength: number) {
  const curve = spreadCurve(grade.spread.degrees, grade.spread[channel]);
  const at = (x: number, y: number) => curve(Math.atan((Math.hypot(x, y) * pitch) / focalLength) * DEGREES);
  const out = new Float64Array(size * size);
  const half = size / 2;
  let sum = 0;
  // The spread is the same in all four quarters.
  for (let y = 0; y <= half; y++)
    for (let x = 0; x <= half; x++) {
      let light = 0;
      if (Math.max(x, y) > NEAR) light = at(x, y);
      else
        for (let j = 0; j < SAMPLES; j++)
          for (let k = 0; k < SAMPLES; k++)
            light += at(x + (k + 0.5) / SAMPLES - 0.5, y + (j + 0.5) / SAMPLES - 0.5) / SAMPLES ** 2;
      const [below, right] = [(size - y) % size, (size - x) % size];
      out[y * size + x] = light;
      out[y * size + right] = light;
      out[below * size + x] = light;
      out[below * size + right] = light;
      sum += light * (below === y ? 1 : 2) * (right === x ? 1 : 2);
    }
  for (let i = 0; i < out.length; i++) out[i]! /= sum;
  return out;
}

const mirrored = (i: number, length: number) => {
  const turn = ((i % (2 * length)) + 2 * length) % (2 * length);
  return turn < length ? turn : 2 * length - 1 - turn;
};

/**
 * T·[(1−σ)·I + σ·(1−a)·(K ⊗ I)], the scene mirrored beyond its frame. `pitch`: mm a pixel; `focalLength`: mm.
 */
export function throughFilter(scene: Frame, grade: Grade, pitch: number, focalLength: number): Frame {
  const { width, height } = scene;
  const size = 2 ** Math.ceil(Math.log2(1.5 * Math.max(width, height)));
  const [left, top] = [(size - width) >> 1, (size - height) >> 1];
  const columns = Int32Array.from({ length: size }, (_, i) => mirrored(i - left, width));
  const rows = Int32Array.from({ length: size }, (_, i) => mirrored(i - top, height));
  const out: Frame = { width, height, data: scene.data.slice() };
  const { scatter, absorption } = grade;
  const through = 2 ** grade.transmissionStops;
  CHANNELS.forEach((channel, c) => {
    const re = new Float64Array(size * size);
    for (let row = 0; row < size; row++)
      for (let column = 0; column < size; column++)
        re[row * size + column] = scene.data[4 * (rows[row]! * width + columns[column]!) + c]!;
    const scattered = convolved({ size, re, im: kernelOf(grade, channel, size, pitch, focalLength) });
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const i = 4 * (y * width + x) + c;
        const light =
          (1 - scatter) * scene.data[i]! + scatter * (1 - absorption) * scattered[(top + y) * size + left + x]!;
        out.data[i] = through * light;
      }
  });
  return out;
}
