import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { chartRunner } from "../../server/engine/charts";
import { lookOf } from "../../testing/laboratory";
import { cabinetOf } from "../profile/profiles";
import { whereSchema } from "../where/schema";
import { isMet } from "./quantity";
import { verify } from "./verify";

const size = { width: 480, height: 270 };
const sensor = { width: 24.9, height: 14.00625 };
const cabinet = cabinetOf(demoProfiles());
const glass = ["diffusion", "veil", "distortion", "lateralColour", "sharpness", "illumination", "transmission"].map(
  (kind) => ({ kind }),
);

test("glass that does nothing to the charts misses its bars", () => {
  const { quantities } = verify(lookOf(glass, {}, sensor), cabinet, size, (_, chart) => chart);
  for (const { kind } of glass)
    expect(
      quantities.some((quantity) => quantity.kind === kind && !isMet(quantity)),
      kind,
    ).toBe(true);
});

test("a look’s own edits and an area of its path do not stand against the profile", () => {
  const { through, close } = chartRunner(cabinet, size);
  const edited = lookOf(
    [
      { kind: "sharpness", params: { contrast20: 70, contrast40: 60 } },
      { kind: "transmission", params: { warmth: 0.4 } },
      { kind: "illumination", params: { natural: true } },
    ],
    { profile: null },
    sensor,
  );
  const { quantities } = verify(
    { ...edited, where: whereSchema.parse({ areas: [{ kind: "shape", width: 20, height: 20 }] }) },
    cabinet,
    size,
    through,
  );
  close();
  expect(new Set(quantities.map(({ kind }) => kind)).size).toBe(3);
  expect(quantities.filter((quantity) => !isMet(quantity))).toEqual([]);
});
