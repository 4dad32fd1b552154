import { expect, test } from "vitest";
import { readY4m } from "../../formats/y4m/y4m";
import { fromYuv } from "../../core/colour/yuv";
import { packPlanes, turn, y4mFile } from "./planes";

const [width, height] = [6, 4];
const luma = Uint8Array.from({ length: 24 }, (_, i) => 30 + i * 7);
const [cb, cr] = [Uint8Array.from({ length: 6 }, (_, i) => 100 + i), Uint8Array.from({ length: 6 }, (_, i) => 140 + i)];

test("planes with padding between lines are packed, and interleaved chroma is taken apart", () => {
  const stride = 8;
  const i420 = new Uint8Array(stride * 4 + stride * 2 * 2);
  const nv12 = new Uint8Array(stride * 4 + stride * 2);
  for (let y = 0; y < 4; y++) for (const data of [i420, nv12]) data.set(luma.subarray(y * 6, y * 6 + 6), y * stride);
  for (let y = 0; y < 2; y++)
    for (let x = 0; x < 3; x++) {
      i420[32 + y * stride + x] = nv12[32 + y * stride + x * 2] = cb[y * 3 + x]!;
      i420[48 + y * stride + x] = nv12[32 + y * stride + x * 2 + 1] = cr[y * 3 + x]!;
    }
  const planar = packPlanes(
    "I420",
    i420,
    [0, 32, 48].map((offset) => ({ offset, stride })),
    width,
    height,
  );
  const paired = packPlanes(
    "NV12",
    nv12,
    [0, 32].map((offset) => ({ offset, stride })),
    width,
    height,
  );
  expect(planar.planes).toEqual([luma, cb, cr]);
  expect(paired).toEqual(planar);
});

test("four quarter turns are none; one moves the left column to the top row, from its foot", () => {
  const frame = {
    width,
    height,
    bytes: 1 as const,
    halfWidth: true,
    halfHeight: true,
    planes: [luma, cb, cr] as [Uint8Array, Uint8Array, Uint8Array],
  };
  const once = turn(frame, 90);
  expect([once.width, once.height]).toEqual([4, 6]);
  expect([...once.planes[0].subarray(0, 4)]).toEqual([18, 12, 6, 0].map((at) => luma[at]));
  expect(turn(turn(turn(once, 90), 90), 90)).toEqual(frame);
  expect(turn(turn(frame, 180), 180)).toEqual(frame);
  expect(turn(turn(frame, 270), 90)).toEqual(frame);
});

test("a frame's file is read by the server with its colour tags", () => {
  const frame = {
    width,
    height,
    bytes: 1 as const,
    halfWidth: true,
    halfHeight: true,
    planes: [luma, cb, cr] as [Uint8Array, Uint8Array, Uint8Array],
  };
  const image = readY4m(
    "a.y4m",
    Buffer.from(y4mFile(frame, 8, 24000 / 1001, { matrix: "bt709", transfer: "pq", fullRange: true })),
  );
  expect(image.info).toMatchObject({ width, height, depth: "8", tags: { cicp: { transfer: 16, fullRange: true } } });
  expect(image.info.framesPerSecond).toBeCloseTo(23.976, 3);
  expect(image.pixels.data).toEqual(
    fromYuv([luma, cb, cr], {
      width,
      height,
      bits: 8,
      halfWidth: true,
      halfHeight: true,
      leftSited: true,
      matrix: "bt709",
      fullRange: true,
    }),
  );
});
