import { describe, expect, test } from "vitest";
import { at, lookOf, painted, through } from "../../../testing/laboratory";
import type { Frame } from "../../image/image";
import type { LensProfile } from "../../profile/lens";
import { Follower, takeTemplate, trackOf } from "../../track/follow";
import type { Track } from "../../track/track";

const [width, height] = [320, 180];
const FRAMES = 16;

/** Where the picture has been shaken to on a frame, px. */
const shake = (frame: number): [number, number] => [6 * Math.sin(2.1 * frame), 5 * Math.cos(1.3 * frame) - 5];
/** A slow move under the shake, px. */
const drift = (frame: number) => 1.5 * (frame - 1);

/** A blob on a texture, moved. */
const frameAt = (frame: number, moves = false): Frame => {
  const [dx, dy] = shake(frame);
  const slow = moves ? drift(frame) : 0;
  return painted(width, height, (px, py) => {
    const [x, y] = [px - dx - slow, py - dy];
    const wave = 0.3 + 0.12 * Math.sin(x / 6) * Math.cos(y / 7) + 0.08 * Math.sin((x + y) / 4);
    const blob = 2 * Math.exp(-((x - 150) ** 2 + (y - 90) ** 2) / 60);
    return [wave + blob, wave + blob, wave];
  });
};
const place = { x: 150 + shake(1)[0], y: 90 + shake(1)[1] };
const region = { ...place, width: 60, height: 50 };

function tracked(moves = false): Track {
  const pose = { ...place, scale: 1, rotation: 0 };
  const follower = new Follower(takeTemplate(frameAt(1, moves), region, pose, "position")!, region, {
    frame: 1,
    pose,
    confidence: 1,
  });
  const steps = Array.from({ length: FRAMES - 1 }, (_, i) => follower.next(i + 2, frameAt(i + 2, moves)));
  return trackOf(
    [{ frame: 1, pose, confidence: 1 }, ...steps],
    { width, height },
    {
      id: "t",
      name: "Blob",
      model: "position",
      reference: 1,
      region,
    },
  );
}

/** Middle of the blob's light above the texture, px. */
function middleOf(frame: Frame): [number, number] {
  let [sum, x, y] = [0, 0, 0];
  for (let j = 20; j < height - 20; j++)
    for (let i = 60; i < width - 60; i++) {
      const light = Math.max(0, at(frame, i, j) - 0.8);
      sum += light;
      x += light * i;
      y += light * j;
    }
  return [x / sum, y / sum];
}

const steadied = (track: Track, frame: number, params: Record<string, unknown> = {}, moves = false, strength = 1) =>
  middleOf(
    through(
      { ...lookOf([{ kind: "steady", strength, params: { track: "t", fit: "keep", ...params } }]), tracks: [track] },
      frameAt(frame, moves),
      { frame, shot: { first: 1, last: FRAMES } },
    ),
  );
const rms = (values: number[]) => Math.sqrt(values.reduce((sum, value) => sum + value ** 2, 0) / values.length);

describe("a shake of 6 px", () => {
  const track = tracked();
  test("is taken out: what was tracked stays within 0.3 px", () => {
    const middles = Array.from({ length: FRAMES }, (_, i) => steadied(track, i + 1));
    const off = middles.map(([x, y]) => Math.hypot(x - middles[0]![0], y - middles[0]![1]));
    expect(rms(off)).toBeLessThan(0.3);
  });
  test("half of it is taken out at half the strength", () => {
    const [x, y] = steadied(track, 5, {}, false, 0.5);
    const [dx, dy] = shake(5);
    const [ox, oy] = shake(1);
    expect(x).toBeCloseTo(150 + (dx + ox) / 2, 0);
    expect(y).toBeCloseTo(90 + (dy + oy) / 2, 0);
  });
  test("filling the frame, nothing from beyond its edges is seen on any frame", () => {
    const white = painted(width, height, () => [1, 1, 1]);
    const edges = painted(width, height, (x, y) =>
      x < 2 || y < 2 || x > width - 3 || y > height - 3 ? [0, 0, 0] : [1, 1, 1],
    );
    const look = { ...lookOf([{ kind: "steady", params: { track: "t", fit: "fill" } }]), tracks: [track] };
    for (let frame = 1; frame <= FRAMES; frame++) {
      expect(through(look, white, { frame }).data.every((value) => Math.abs(value - 1) < 1e-3)).toBe(true);
      // A mirrored edge would show its dark border twice, away from the frame's own edge.
      const out = through(look, edges, { frame });
      let dark = 0;
      for (let y = 8; y < height - 8; y++) for (let x = 8; x < width - 8; x++) if (at(out, x, y) < 0.9) dark++;
      expect(dark).toBe(0);
    }
  });
});

test("showing all, the corners of every frame are seen, and the picture is no smaller than that needs", () => {
  const look = { ...lookOf([{ kind: "steady", params: { track: "t", fit: "all" } }]), tracks: [tracked()] };
  // Each pixel says where it is.
  const places = painted(width, height, (x, y) => [x, y, 0]);
  const corners = [0, width - 1].flatMap((x) => [0, height - 1].map((y) => [x, y] as const));
  let nearestToEdge = Infinity;
  for (let frame = 1; frame <= FRAMES; frame++) {
    const out = through(look, places, { frame });
    for (const [cornerX, cornerY] of corners) {
      let best = { apart: Infinity, x: 0, y: 0 };
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const apart = Math.hypot(at(out, x, y, 0) - cornerX, at(out, x, y, 1) - cornerY);
          if (apart < best.apart) best = { apart, x, y };
        }
      expect(best.apart).toBeLessThan(1.5);
      nearestToEdge = Math.min(nearestToEdge, best.x, best.y, width - 1 - best.x, height - 1 - best.y);
    }
  }
  expect(nearestToEdge).toBeLessThanOrEqual(1);
});

describe("beside a lens", () => {
  const track = tracked();
  const smooth = painted(width, height, (x, y) => {
    const light = 0.4 + 0.2 * Math.sin(x / 14) * Math.cos(y / 11) + 0.1 * Math.cos((x - y) / 17);
    return [light, light * 0.8, light * 0.6];
  });
  const lens: LensProfile = {
    format: "pale-halo-lens",
    version: 1,
    id: "trial",
    name: "Trial",
    squeeze: 1,
    distortion: [
      { focalLength: 50, model: "radial-tangential", coefficients: { k1: -4, k2: 0, k3: 0, p1: 0.01, p2: 0 } },
    ],
  };
  const hold = { kind: "steady", params: { track: "t", fit: "keep" } };
  const bend = { kind: "distortion", params: {} };
  const lookWith = (elements: object[]) => ({
    ...lookOf(elements as Parameters<typeof lookOf>[0]),
    lens: { profile: "trial", focalLength: 50, stop: 2, focusDistance: 3 },
    tracks: [track],
  });
  const run = (elements: object[], frame = smooth) =>
    through(lookWith(elements), frame, { frame: 4, profiles: [lens] });
  test.each([
    ["before", [hold, bend]],
    ["after", [bend, hold]],
  ])("%s it, one resampling does what two in a row do", (_, pair) => {
    const together = run(pair);
    const apart = run([pair[1]!], run([pair[0]!]));
    let [worst, differs] = [0, 0];
    for (let y = 20; y < height - 20; y++)
      for (let x = 20; x < width - 20; x++) {
        worst = Math.max(worst, Math.abs(at(together, x, y) - at(apart, x, y)));
        differs = Math.max(differs, Math.abs(at(together, x, y) - at(smooth, x, y)));
      }
    expect(worst).toBeLessThan(2e-3);
    expect(differs).toBeGreaterThan(0.05);
  });
  test("the order counts: held and then bent is not bent and then held", () => {
    const [one, other] = [run([hold, bend]), run([bend, hold])];
    let apart = 0;
    for (let y = 20; y < height - 20; y++)
      for (let x = 20; x < width - 20; x++) apart = Math.max(apart, Math.abs(at(one, x, y) - at(other, x, y)));
    expect(apart).toBeGreaterThan(0.004);
  });
  test("fine detail keeps what one resampling leaves of it, not two", () => {
    const fine = painted(width, height, (x) => [0.5 + 0.4 * Math.cos(2.4 * x), 0.5, 0.5]);
    const contrast = (frame: Frame) => {
      let sum = 0;
      for (let x = 100; x < 220; x++) sum += (at(frame, x, 90) - 0.5) ** 2;
      return sum;
    };
    expect(contrast(run([hold, bend], fine))).toBeGreaterThan(1.05 * contrast(run([bend], run([hold], fine))));
  });
});

test("what is slower than the time constant stays, the shake on top of it goes", () => {
  const track = tracked(true);
  const middles = Array.from({ length: FRAMES }, (_, i) => steadied(track, i + 1, { what: "fast", constant: 6 }, true));
  const inner = middles.slice(4, -4);
  const rest = inner.map(([x], i) => x - (inner[0]![0] + 1.5 * i));
  const before = Array.from({ length: inner.length }, (_, i) => shake(i + 5)[0] - shake(5)[0]);
  expect(rms(rest)).toBeLessThan(0.5 * rms(before));
  expect(inner.at(-1)![0] - inner[0]![0]).toBeGreaterThan(6);
});

test("without its track it does nothing, and says so", () => {
  const look = lookOf([{ kind: "steady", params: { track: "gone" } }]);
  const frame = frameAt(3);
  expect(through(look, frame, { frame: 3 }).data).toEqual(frame.data);
});
