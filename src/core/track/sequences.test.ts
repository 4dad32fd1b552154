import { expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { Follower, LOST, type Region, takeTemplate } from "./follow";

const [WIDTH, HEIGHT, FRAMES] = [200, 140, 8];
/** What is further off than this, px, must say so: less than half sure. */
const OFF = 2;
const HALF_SURE = 0.5;

type Texture = (u: number, v: number) => number;

/** Waves of lengths between two bounds, radians a px. */
function waves(seed: number, least: number, most: number): Texture {
  const next = numbers(seed);
  const all = Array.from({ length: 10 }, () => {
    const [length, way] = [least + (most - least) * next(), 2 * Math.PI * next()];
    return { x: length * Math.cos(way), y: length * Math.sin(way), at: 2 * Math.PI * next() };
  });
  return (u, v) => all.reduce((sum, wave) => sum + Math.sin(wave.x * u + wave.y * v + wave.at), 0) / 4;
}

/** What is followed, by name; `way` is the direction it moves in, radians. */
const TEXTURES: Record<string, (seed: number, way: number) => Texture> = {
  "coarse and fine": (seed) => waves(seed, 0.05, 0.5),
  "fine alone": (seed) => waves(seed, 0.3, 1.2),
  "large forms alone": (seed) => waves(seed, 0.02, 0.06),
  "one soft spot": () => (u, v) => 2 * Math.exp(-(u * u + v * v) / (2 * 15 * 15)),
  "stripes along the motion": (_, way) => (u, v) => Math.sin(0.3 * (v * Math.cos(way) - u * Math.sin(way))),
  "stripes across the motion": (_, way) => (u, v) => Math.sin(0.4 * (u * Math.cos(way) + v * Math.sin(way))),
  checks: () => (u, v) => Math.sin(u / 2) * Math.sin(v / 2),
  "nothing but noise": () => () => 0,
  "much noise": (seed) => waves(seed, 0.05, 0.5),
  "what leaves the frame": (seed) => waves(seed, 0.05, 0.5),
  "what is covered": (seed) => waves(seed, 0.05, 0.5),
  "what leaps": (seed) => waves(seed, 0.05, 0.5),
};
/** Those that can be followed, and must be. */
const FOLLOWED = ["coarse and fine", "fine alone", "large forms alone", "one soft spot", "much noise"];

/** A made sequence: where its patch is on each frame, and the frames. */
function sequence(kind: string, seed: number) {
  const next = numbers(seed * 77 + 5);
  const way = 2 * Math.PI * next();
  const speed = { "what leaps": 15, "what leaves the frame": 10 }[kind] ?? 1;
  const [dx, dy] = [Math.cos(way), Math.sin(way)].map((share) => share * (speed + 6 * next()));
  const turn = next() < 0.4 ? (next() - 0.5) * 0.06 : 0;
  const growth = next() < 0.4 ? 1 + (next() - 0.5) * 0.03 : 1;
  const noise = kind.includes("noise") ? 0.1 + 0.15 * next() : 0.02 * next();
  const [front, behind] = [TEXTURES[kind]!(seed, way), waves(seed + 1000, 0.05, 0.4)];
  const before = kind === "what leaves the frame" ? 0 : FRAMES / 2;
  const truth = (frame: number) => ({
    x: WIDTH / 2 + dx! * (frame - before),
    y: HEIGHT / 2 + dy! * (frame - before),
    rotation: turn * frame,
    scale: growth ** frame,
  });
  const frameAt = (frame: number) => {
    const data = new Float32Array(WIDTH * HEIGHT * 4);
    const grain = numbers(seed * 1000 + frame);
    const { x: cx, y: cy, rotation, scale } = truth(frame);
    const [c, s] = [Math.cos(rotation) / scale, Math.sin(rotation) / scale];
    const cover = kind === "what is covered" ? 24 * frame : 0;
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const [u, v] = [(x - cx) * c + (y - cy) * s, (y - cy) * c - (x - cx) * s];
        const isBehind = (cover && x < cover && x > cover - 90) || (kind === "coarse and fine" && Math.abs(u) > 36);
        const light = isBehind ? 0.2 + 0.1 * behind(x + 2 * frame, y) : 0.3 + 0.15 * front(u, v);
        const seen = Math.max(0.01, light) * (1 + noise * 3.4 * (grain() - 0.5));
        data.set([seen, seen, seen, 1], (y * WIDTH + x) * 4);
      }
    return { width: WIDTH, height: HEIGHT, data };
  };
  return { truth, frameAt, model: turn || growth !== 1 ? ("similarity" as const) : ("position" as const) };
}

test.each(Object.keys(TEXTURES))("%s, nine sequences: whatever is off by more than 2 px says less than 0.5", (kind) => {
  let sure = 0;
  for (let seed = 0; seed < 9; seed++) {
    const { truth, frameAt, model } = sequence(kind, seed);
    const begin = { x: truth(0).x, y: truth(0).y, scale: 1, rotation: 0 };
    const region: Region = { x: begin.x, y: begin.y, width: 56, height: 44 };
    const template = takeTemplate(frameAt(0), region, begin, model);
    if (!template) continue;
    const follower = new Follower(template, region, { frame: 0, pose: begin, confidence: 1 });
    for (let frame = 1; frame < FRAMES; frame++) {
      const { pose, confidence } = follower.next(frame, frameAt(frame));
      const off = Math.hypot(pose.x - truth(frame).x, pose.y - truth(frame).y);
      if (off > OFF) expect(confidence, `sequence ${seed}, frame ${frame}: off by ${off} px`).toBeLessThan(HALF_SURE);
      if (confidence < LOST) break;
      sure++;
    }
  }
  if (FOLLOWED.includes(kind)) expect(sure).toBeGreaterThan(0.85 * 9 * (FRAMES - 1));
});
