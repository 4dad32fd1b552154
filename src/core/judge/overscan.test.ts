import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { bench, lookOf } from "../../testing/laboratory";
import type { Look } from "../look/look";
import { distortionAt, type LensProfile } from "../profile/lens";
import { cabinetOf } from "../profile/profiles";
import { invertibleRadius, undistorted } from "../profile/undistort";
import { NO_OVERSCAN } from "../image/overscan";
import { overscanMissing, overscanNeeded } from "./overscan";
import { madeBy, type MakeShown } from "./places";

const cabinet = cabinetOf(demoProfiles());
const size = { width: 480, height: 270, frame: 1 };
/** Anew each time, on an engine that keeps what it made: ramps of one size are not taken for those of another. */
const make: MakeShown = (...of) => madeBy(bench.engine, cabinet, { frame: 1 })(...of);
const needed = (look: Look) => overscanNeeded(look, cabinet, size, make);
const wide = { profile: "orrin-vale-25", focalLength: 25, stop: 2.8 };

test("a barrel needs what its edges' middles and corners are fetched from, computed by itself", () => {
  const look = lookOf([{ kind: "distortion", params: { fit: "keep" } }], wide);
  const distortion = distortionAt(cabinet.lenses.get("orrin-vale-25") as LensProfile, 25)!;
  const { sensor } = look.camera;
  const pitch = sensor.width / 480;
  const limit = invertibleRadius(distortion, 1);
  const left = Math.max(
    ...Array.from({ length: 270 }, (_, y) => {
      const [u] = undistorted(distortion, 1, limit, (-239.5 * pitch) / 25, ((y - 134.5) * pitch) / 25);
      return -((u * 25) / pitch + 239.5);
    }),
  );
  expect(needed(look).left).toBe(Math.ceil(left - 0.02));
  expect(needed(look).isMore).toBe(false);
});

test("a picture that fills the frame needs nothing, nor does glass that moves nothing", () => {
  const none = { left: 0, top: 0, right: 0, bottom: 0, isMore: false };
  expect(needed(lookOf([{ kind: "glow" }, { kind: "trim", params: { exposure: -2 } }], wide))).toEqual(none);
  const filled = needed(lookOf([{ kind: "distortion", params: { fit: "fill" } }], wide));
  expect(Math.max(filled.left, filled.top, filled.right, filled.bottom)).toBeLessThanOrEqual(1);
});

test("lateral colour needs as much as it moves red or blue outwards", () => {
  const { left, right } = needed(lookOf([{ kind: "lateralColour", strength: 6 }], wide));
  expect([left > 0, Math.abs(left - right) <= 1]).toEqual([true, true]);
});

test("what a file does not hold of it is told in pixels of the full frame, measured on a smaller one", () => {
  const look = lookOf([{ kind: "distortion", params: { fit: "keep" } }], wide);
  const full = { width: 960, height: 540, frame: 1 };
  const missing = (held: number) =>
    overscanMissing(look, cabinet, full, { left: held, top: held, right: held, bottom: held }, make);
  const exact = overscanNeeded(look, cabinet, full, make);
  const worst = Math.max(exact.left, exact.top, exact.right, exact.bottom);
  const found = missing(0)!;
  expect(Math.abs(found.needed - worst)).toBeLessThanOrEqual(1);
  expect(found).toMatchObject({ share: found.needed / 960, isMore: false, held: 0 });
  expect([missing(8)?.held, missing(worst)]).toEqual([8, null]);
  const filled = lookOf([{ kind: "distortion", params: { fit: "fill" } }], wide);
  expect(overscanMissing(filled, cabinet, full, NO_OVERSCAN, make)).toBe(null);
});
