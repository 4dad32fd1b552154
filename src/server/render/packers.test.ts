import { expect, test } from "vitest";
import { pack, WRITTEN } from "../../formats/exr/compression";
import { LARGE } from "./job";
import { startPackers } from "./packers";

const [WIDTH, HEIGHT] = [300, 40];

/** Colours of halves in memory that threads share, or not, and a plane of floats. */
function channelsOf(isShared: boolean) {
  const memory = (bytes: number) => (isShared ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes));
  const colours = new Uint32Array(memory(16 * WIDTH * HEIGHT));
  new Float32Array(colours.buffer).forEach((_, i, all) => (all[i] = Math.sin(i / 50) + (i % 7) / 100));
  const depth = new Uint32Array(memory(4 * WIDTH * HEIGHT));
  new Float32Array(depth.buffer).forEach((_, i, all) => (all[i] = 2 + (i % WIDTH) / 10));
  const common = { linear: false, subsampled: false };
  return [
    ...["B", "G", "R"].map((name, i) => ({
      ...{ name, type: "half" as const, bytes: 2, ...common },
      ...{ bits: colours, stride: 4, first: 2 - i, isHalf: true },
    })),
    { name: "Z", type: "float" as const, bytes: 4, ...common, bits: depth, stride: 1, first: 0, isHalf: false },
  ];
}

test.each([true, false])(
  "threads pack the same bytes, several chunks at once (shared memory: %s)",
  async (isShared) => {
    const packers = startPackers(3);
    const channels = channelsOf(isShared);
    const orders = WRITTEN.flatMap((compression) =>
      [0, 16, 32].map((top) => ({
        ...{ compression, channels },
        rows: { channels, width: WIDTH, top, end: Math.min(HEIGHT, top + 16) },
      })),
    );
    const packed = await Promise.all(orders.map((order) => packers.pack(order)));
    for (const [i, { compression, rows }] of orders.entries())
      expect(packed[i]!.equals(pack(compression, rows, channels)), `${compression} ${rows.top}`).toBe(true);
    // What it was made of is still there.
    expect(channels.every(({ bits }) => bits.length > 0)).toBe(true);
  },
);

test("beside a large picture, which the engine waits for, one more of them works; on one core none does", () => {
  expect([startPackers(2).atOnce(LARGE), startPackers(2).atOnce(LARGE + 1)]).toEqual([1, 2]);
  expect([startPackers(1).atOnce(LARGE), startPackers(1).atOnce(LARGE + 1)]).toEqual([1, 1]);
  expect(startPackers(64).atOnce(LARGE + 1)).toBeLessThan(9);
});
