import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { bench, lookOf, painted, through } from "../../testing/laboratory";
import { madeBy, placesThrough } from "../judge/places";
import type { Look } from "../look/look";
import { distortionMap } from "../profile/distortion-map";
import { distortionAt, type LensProfile } from "../profile/lens";
import { cabinetOf } from "../profile/profiles";
import { placesMap } from "./places-map";

const cabinet = cabinetOf(demoProfiles());
const size = { width: 320, height: 180 };
const at = { ...size, frame: 1 };
const wide = { profile: "orrin-vale-25", focalLength: 25, stop: 2.8 };
const placesOf = (look: Look) => placesThrough(look, cabinet, at, madeBy(bench.engine, cabinet, at))!;

/** A map's places in px, of pixels at least so far from the frame's edge. */
function pixelsOf(map: Float32Array, margin: number): { x: number; y: number; from: [number, number] }[] {
  const all = [];
  for (let y = margin; y < size.height - margin; y++)
    for (let x = margin; x < size.width - margin; x++) {
      const i = 4 * (y * size.width + x);
      all.push({ x, y, from: [map[i]! * size.width - 0.5, (1 - map[i + 1]!) * size.height - 0.5] as [number, number] });
    }
  return all;
}

const worst = (values: Iterable<number>) => [...values].reduce((most, value) => Math.max(most, Math.abs(value)), 0);

describe("a look's geometry as a map", () => {
  test("is the lens's own where the look has it as measured, both ways", () => {
    const look = lookOf([{ kind: "distortion", params: { fit: "keep" } }], wide);
    const places = placesOf(look);
    const distortion = distortionAt(cabinet.lenses.get("orrin-vale-25") as LensProfile, 25)!;
    const frame = { ...size, sensor: look.camera.sensor, focalLength: 25 };
    for (const inverse of [false, true]) {
      const own = distortionMap(distortion, frame, inverse);
      const made = placesMap(places, inverse);
      const off = made.map((place, i) => (i % 4 < 2 ? (place - own[i]!) * (i % 4 ? size.height : size.width) : 0));
      // What is taken off is looked for in the picture alone: a corner lies beyond it.
      expect(worst(inverse ? pixelsOf(made, 24).map(({ x, y }) => off[4 * (y * size.width + x)]!) : off)).toBeLessThan(
        0.02,
      );
    }
  });
  test("says where each pixel of what is made comes from: at half the strength, filled, turned by nothing else", () => {
    for (const element of [
      { kind: "distortion", strength: 0.5, params: { fit: "fill" } },
      { kind: "distortion", strength: 1.6, params: { fit: "keep" } },
    ]) {
      const light = (x: number, y: number) => 0.5 + 0.3 * Math.sin(x / 11) * Math.cos(y / 9);
      const look = lookOf([element], wide);
      const made = through(
        look,
        painted(size.width, size.height, (x, y) => [light(x, y), light(x, y), light(x, y)]),
      );
      const off = pixelsOf(placesMap(placesOf(look)), 0)
        .filter(({ from: [x, y] }) => x > 2 && y > 2 && x < size.width - 3 && y < size.height - 3)
        .map(({ x, y, from }) => made.data[4 * (y * size.width + x) + 1]! - light(...from));
      expect(off.length).toBeGreaterThan(0.8 * size.width * size.height);
      expect(worst(off)).toBeLessThan(0.002);
    }
  });
  test("taken off, what was put on is where it was, within 0.05 px", () => {
    const places = placesOf(lookOf([{ kind: "distortion", strength: 0.7, params: { fit: "fill" } }], wide));
    const on = placesMap(places);
    const off = pixelsOf(placesMap(places, true), 0)
      .filter(({ from: [x, y] }) => x > 1 && y > 1 && x < size.width - 2 && y < size.height - 2)
      .map(({ x, y, from: [u, v] }) => {
        // Where the rendered picture shows this pixel, the map that made it leads back to it.
        const [left, top] = [Math.floor(u), Math.floor(v)];
        const back = (lane: 0 | 1) => {
          const value = (dx: number, dy: number) => on[4 * ((top + dy) * size.width + left + dx) + lane]!;
          const [right, down] = [u - left, v - top];
          const upper = value(0, 0) * (1 - right) + value(1, 0) * right;
          const lower = value(0, 1) * (1 - right) + value(1, 1) * right;
          return upper * (1 - down) + lower * down;
        };
        return Math.hypot(back(0) * size.width - 0.5 - x, (1 - back(1)) * size.height - 0.5 - y);
      });
    expect(off.length).toBeGreaterThan(0.9 * size.width * size.height);
    expect(worst(off)).toBeLessThan(0.05);
  });
  test("there is none where nothing moves the picture", () => {
    expect(placesOf(lookOf([{ kind: "glow" }, { kind: "lateralColour" }], wide))).toBe(null);
  });
});
