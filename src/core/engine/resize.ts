import { areaTaps } from "../maths/taps";
import type { Engine } from "./engine";
import { floatsOf, type Frame } from "../image/image";

/** Changes a frame's size by area on the engine. */
export function resizeFrame(engine: Engine, frame: Frame, width: number, height: number, cacheKey: string): Frame {
  if (frame.width === width && frame.height === height) return frame;
  const op = {
    kernel: "resize" as const,
    args: { source: 0, out: 1, width: frame.width, outWidth: width, across: { table: 0 }, down: { table: 1 } },
    rows: height,
    rowPixels: frame.width,
    output: 1,
  };
  const spec = (w: number, h: number) => ({ width: w, height: h, pixelBytes: 16, edgeX: w, edgeY: h });
  const buffers = [spec(frame.width, frame.height), spec(width, height)];
  const plan = {
    width: frame.width,
    height: frame.height,
    buffers,
    tables: [areaTaps(frame.width, width), areaTaps(frame.height, height)].map(({ buffer }) => new Uint8Array(buffer)),
    constants: [],
    steps: [{ cacheKey: `${cacheKey} resized ${width}x${height}`, operations: [op], output: 1 }],
    sourceKey: cacheKey,
    extras: [],
  };
  const bytes = engine.run(plan, () => frame.data);
  return { width, height, data: floatsOf(bytes).slice() };
}
