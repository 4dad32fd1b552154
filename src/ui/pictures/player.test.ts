import { expect, test } from "vitest";
import { lookOf } from "@/testing/laboratory";
import type { Picture, PictureOrder } from "../engine/questions";
import { createPlayer, type PlayedPicture, type PlayOrder } from "./player";

const ORDER: PlayOrder = {
  look: lookOf([{ kind: "grain" }]),
  shotId: "s",
  encoding: "e",
  plates: "",
  shot: { first: 1, last: 6 },
  frameRate: 25,
  output: { kind: "display" },
};
const FRAMES = [[1, 6]] as const;
const MAKING = 100;

/** Plays until so many pictures were shown, on a clock of its own: making a picture takes 100 ms. */
async function played(
  count: number,
  change: (shown: PlayedPicture[]) => Partial<{ order: PlayOrder | null; speed: number }> = () => ({}),
  span: readonly [number, number] | null = null,
) {
  let now = 0;
  const made: PictureOrder[] = [];
  const shown: (PlayedPicture & { at: number })[] = [];
  const gone = new AbortController();
  const player = createPlayer({
    clock: {
      now: () => now,
      wait: (milliseconds) => {
        now += milliseconds;
        return Promise.resolve();
      },
    },
    make: (order) => {
      made.push(order);
      now += MAKING;
      const pixels = new Uint8ClampedArray(4);
      return Promise.resolve({ divide: order.divide, pixels, milliseconds: MAKING } as Picture);
    },
    prefetch: () => {},
    show: (picture) => {
      shown.push({ ...picture, at: now });
      if (shown.length === count) gone.abort();
    },
  });
  const at = () => ({ order: ORDER, speed: 1, span, ...change(shown) });
  await player.play(FRAMES, 3, 1920, at, gone.signal);
  return { made, shown };
}

test("every frame is shown, round and round; the second time at the shot's own rate", async () => {
  const { made, shown } = await played(14);
  expect(shown.map(({ frame }) => frame)).toEqual([3, 4, 5, 6, 1, 2, 3, 4, 5, 6, 1, 2, 3, 4]);
  expect(made.map(({ frame }) => frame)).toEqual([3, 4, 5, 6, 1, 2]);
  // Large frames are played at half their size.
  expect(made.every(({ divide }) => divide === 2)).toBe(true);
  expect(shown[5]!.rate).toBeCloseTo(1000 / MAKING, 0);
  const last = shown.slice(-4).map(({ at }) => at);
  expect(last.slice(1).map((at, i) => at - last[i]!)).toEqual([40, 40, 40]);
  expect(shown.at(-1)!.rate).toBeGreaterThan(20);
});

test("it goes backwards, faster, and only over what is marked", async () => {
  const { shown } = await played(5, () => ({ speed: -1 }));
  expect(shown.map(({ frame }) => frame)).toEqual([3, 2, 1, 6, 5]);
  const fast = await played(4, () => ({ speed: 2 }));
  expect(fast.shown.map(({ frame }) => frame)).toEqual([3, 5, 1, 3]);
  const span = await played(5, () => ({}), [2, 4]);
  expect(span.shown.map(({ frame }) => frame)).toEqual([3, 4, 2, 3, 4]);
});

test("a change of the look forgets what was made ready by the old one", async () => {
  const other = { ...ORDER, look: lookOf([{ kind: "grain", strength: 0.2 }]) };
  const { made, shown } = await played(14, (so) => ({ order: so.length < 8 ? ORDER : other }));
  expect(made.slice(6).map(({ frame }) => frame)).toEqual([5, 6, 1, 2, 3, 4]);
  expect(shown.at(-1)!.order.look).toBe(other.look);
});

test("it ends where there is nothing to be played any more", async () => {
  const { shown } = await played(99, (so) => ({ order: so.length < 2 ? ORDER : null }));
  expect(shown).toHaveLength(2);
});
