import { expect, test } from "vitest";
import { lensSchema } from "./lens";
import { heldMeasurements, measuredReach } from "./reach";

const origin = { origin: { kind: "computed", by: "test" } };
const lens = lensSchema.parse({
  format: "pale-halo-lens",
  version: 1,
  id: "trial",
  name: "Trial",
  illumination: [2, 5.6].map((stop) => ({
    focalLength: 50,
    stop,
    heights: [0, 8, 16],
    relative: [1, 0.9, 0.7],
    ...origin,
  })),
  lateralColour: [{ focalLength: 35, heights: [0, 14], red: [0, 4], blue: [0, -4], ...origin }],
});

test("what the tables cover is read off the tables", () => {
  expect(measuredReach(lens)).toEqual({ focalLengths: [35, 50], stops: [2, 5.6], height: 14 });
});

test("inside it nothing is said, outside it each thing that is held", () => {
  expect(heldMeasurements(lens, { focalLength: 40, stop: 2, corner: 14 })).toEqual({});
  const said = heldMeasurements(lens, { focalLength: 85, stop: 1.4, corner: 21.63 });
  expect(said.focalLength).toMatch(/^85 mm .*35 mm to 50 mm/);
  expect(said.stop).toMatch(/^T1\.4 .*T2 to T5\.6/);
  expect(said.height).toMatch(/21\.6 mm .*14 mm/);
  expect(
    heldMeasurements(lensSchema.parse({ format: "pale-halo-lens", version: 1, id: "bare", name: "Bare" }), {
      focalLength: 85,
      stop: 1.4,
      corner: 50,
    }),
  ).toEqual({});
});
