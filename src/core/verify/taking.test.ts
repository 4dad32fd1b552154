import { expect, test } from "vitest";
import { chartRunner } from "../../server/engine/charts";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf } from "../../testing/laboratory";
import { cabinetOf, type LensProfile } from "../profile/profiles";
import { takingFor } from "../look/taking";
import { isMet } from "./quantity";
import { verify } from "./verify";

const SIZE = { width: 640, height: 360 };
const cabinet = cabinetOf(demoProfiles());
const lens = (id: string) => cabinet.lenses.get(id) as LensProfile;

test("charts shot through one lens, that lens taken off, another one put on: they measure as that one alone", () => {
  const { through, close } = chartRunner(cabinet, SIZE);
  const kinds = ["distortion", "lateralColour", "sharpness", "illumination", "transmission"];
  const look = lookOf(
    kinds.map((kind) => ({ kind, params: kind === "distortion" ? { fit: "keep" } : {} })),
    { profile: "plainglass-50", focalLength: 50, stop: 2.8 },
    { width: 24.9, height: 14.00625 },
  );
  const off = { ...look, camera: { ...look.camera, taking: { ...takingFor(lens("orrin-vale-50")), stop: 2.8 } } };
  const { quantities } = verify(off, cabinet, SIZE, through);
  expect(new Set(quantities.map(({ kind }) => kind)).size).toBe(kinds.length);
  expect(quantities.filter((quantity) => !isMet(quantity))).toEqual([]);
  // The wanted lens alone on such footage is told apart by the same charts.
  const shot = { ...off, camera: { ...off.camera, taking: { ...off.camera.taking, distortion: 0, illumination: 0 } } };
  const missed = verify(shot, cabinet, SIZE, through).quantities.filter((quantity) => !isMet(quantity));
  expect(new Set(missed.map(({ kind }) => kind))).toEqual(new Set(["distortion", "illumination"]));
  close();
}, 60_000);
