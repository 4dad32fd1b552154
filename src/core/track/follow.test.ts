import { describe, expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { Follower, LOST, type Region, stepsOf, takeTemplate, trackOf } from "./follow";
import { motionAt, trackSchema } from "./track";

const [WIDTH, HEIGHT] = [640, 360];
const FRAMES = 48;

/** Smooth texture of two sizes, the same at a place each time. */
function texture(seed: number) {
  const next = numbers(seed);
  const waves = Array.from({ length: 14 }, () => {
    const size = 0.05 + 0.4 * next();
    const turn = 2 * Math.PI * next();
    return { x: size * Math.cos(turn), y: size * Math.sin(turn), at: 2 * Math.PI * next() };
  });
  return (x: number, y: number) =>
    waves.reduce((sum, wave) => sum + Math.sin(wave.x * x + wave.y * y + wave.at), 0) / waves.length;
}
const [front, behind] = [texture(3), texture(8)];

/** Where the patch is on a frame of the made sequence: it drifts, turns by 1° and grows by 1 % a frame. */
const truth = (frame: number, turns = true) => ({
  x: 150 + 7 * frame + 20 * Math.sin(frame / 7),
  y: 180 + 60 * Math.sin(frame / 9),
  rotation: turns ? (frame * Math.PI) / 180 : 0,
  scale: turns ? 1.01 ** frame : 1,
});

/** A frame: a textured patch on a background that moves otherwise, its light changing by a stop, with 2 % noise. */
function frameAt(frame: number, { turns = true, hidden = false } = {}) {
  const data = new Float32Array(WIDTH * HEIGHT * 4);
  const next = numbers(1000 + frame);
  const { x: cx, y: cy, rotation, scale } = truth(frame, turns);
  const [c, s] = [Math.cos(rotation) / scale, Math.sin(rotation) / scale];
  const gain = 2 ** (frame / FRAMES);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const [u, v] = [(x - cx) * c + (y - cy) * s, (y - cy) * c - (x - cx) * s];
      const isPatch = !hidden && Math.abs(u) < 60 && Math.abs(v) < 48;
      const value = isPatch ? 0.2 + 0.5 * front(u, v) : 0.15 + 0.3 * behind(x + 3 * frame, y - 2 * frame);
      const light = gain * Math.max(0.01, value) * (1 + 0.02 * 2 * (next() - 0.5) * 1.7);
      data.set([light, light, light, 1], (y * WIDTH + x) * 4);
    }
  return { width: WIDTH, height: HEIGHT, data };
}

const region: Region = { x: truth(0).x, y: truth(0).y, width: 110, height: 88 };
const begin = { x: region.x, y: region.y, scale: 1, rotation: 0 };
const rms = (values: number[]) => Math.sqrt(values.reduce((sum, value) => sum + value ** 2, 0) / values.length);

describe("a patch that drifts by up to 12 px a frame in light that changes by a stop, with noise", () => {
  test("turning and growing, it is followed through 48 frames within 0.2 px, 0.1° and 0.3 %", () => {
    const template = takeTemplate(frameAt(0), region, begin, "similarity")!;
    const follower = new Follower(template, region, { frame: 0, pose: begin, confidence: 1 });
    const steps = Array.from({ length: FRAMES - 1 }, (_, i) => follower.next(i + 1, frameAt(i + 1)));
    expect(Math.min(...steps.map(({ confidence }) => confidence))).toBeGreaterThan(LOST);
    const off = steps.map(({ frame, pose }) => {
      const wanted = truth(frame);
      return {
        place: Math.hypot(pose.x - wanted.x, pose.y - wanted.y),
        turn: ((pose.rotation - wanted.rotation) * 180) / Math.PI,
        growth: pose.scale / wanted.scale - 1,
      };
    });
    expect(rms(off.map(({ place }) => place))).toBeLessThan(0.2);
    expect(rms(off.map(({ turn }) => turn))).toBeLessThan(0.1);
    expect(rms(off.map(({ growth }) => growth))).toBeLessThan(0.003);
  });

  test("by its position alone, forwards and backwards, it is found where it is", () => {
    const start = 20;
    const own = { ...truth(start, false) };
    const place = { ...region, x: own.x, y: own.y };
    const template = takeTemplate(frameAt(start, { turns: false }), place, own, "position")!;
    for (const way of [1, -1]) {
      const follower = new Follower(template, place, { frame: start, pose: own, confidence: 1 });
      const off = Array.from({ length: 15 }, (_, i) => {
        const frame = start + way * (i + 1);
        const { pose } = follower.next(frame, frameAt(frame, { turns: false }));
        expect([pose.scale, pose.rotation]).toEqual([1, 0]);
        return Math.hypot(pose.x - truth(frame, false).x, pose.y - truth(frame, false).y);
      });
      expect(rms(off)).toBeLessThan(0.2);
    }
  });
});

test("what is hidden is lost, and said to be", () => {
  const template = takeTemplate(frameAt(0), region, begin, "position")!;
  const follower = new Follower(template, region, { frame: 0, pose: begin, confidence: 1 });
  expect(follower.next(1, frameAt(1)).confidence).toBeGreaterThan(0.8);
  expect(follower.next(2, frameAt(2, { hidden: true })).confidence).toBeLessThan(LOST);
});

test("an even region is nothing to follow", () => {
  const data = new Float32Array(WIDTH * HEIGHT * 4).fill(0.3);
  expect(takeTemplate({ width: WIDTH, height: HEIGHT, data }, region, begin, "position")).toBeNull();
});

test("steps become a track in shares of the frame, and steps again; motion is counted from its reference", () => {
  const steps = [10, 11, 12].map((frame) => ({ frame, pose: truth(frame), confidence: 0.9 }));
  const size = { width: WIDTH, height: HEIGHT };
  const track = trackOf(steps, size, {
    id: "track-1",
    name: "Patch",
    model: "similarity",
    reference: 10,
    region: { ...region, x: truth(10).x, y: truth(10).y },
  });
  expect(trackSchema.safeParse(track).success).toBe(true);
  stepsOf(track, size).forEach(({ frame, pose }, i) => {
    expect(frame).toBe(10 + i);
    expect(pose.x).toBeCloseTo(truth(frame).x, 3);
    expect(pose.rotation).toBeCloseTo(truth(frame).rotation, 4);
  });
  const motion = motionAt(track, 12);
  expect((motion.x / 100) * WIDTH).toBeCloseTo(truth(12).x - truth(10).x, 2);
  expect(motion.rotation).toBeCloseTo(2, 3);
  expect(motion.scale).toBeCloseTo(1.01 ** 2, 4);
  // Before its first frame and after its last it stands still.
  expect(motionAt(track, 99)).toEqual(motion);
  expect(motionAt(track, 1).x).toBe(0);
});
