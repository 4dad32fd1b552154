import { describe, expect, test } from "vitest";
import { lensAgainst } from "../../demo/bench-day/against";
import { CAMERA } from "../../demo/bench-day/camera";
import { flatField, gridChart } from "../../demo/bench-day/charts";
import { lensOnCamera } from "../../demo/bench-day/through-lens";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf, through } from "../../testing/laboratory";
import type { Frame } from "../image/image";
import { cautionsOf } from "../judge/cautions";
import { lookAt } from "../look/at-frame";
import type { Look } from "../look/look";
import { takingFor } from "../look/taking";
import { chartOf } from "../measure/chart";
import { measureFlat } from "../measure/flat";
import { measureGrid } from "../measure/grid";
import { contrastAt, measureEdge } from "../measure/edge";
import type { LensProfile } from "../profile/lens";
import { compile } from "./compile";
import { cabinetOf } from "../profile/profiles";

const lens = (id: string) => demoProfiles().find((profile) => profile.id === id) as LensProfile;
const [A, B] = [lens("orrin-vale-50"), lens("plainglass-50")];
const STOP = 2.8;

/** A look that takes a lens off, and puts pieces of another one on. */
const off = (from: LensProfile, kinds: string[] = [], change: Partial<ReturnType<typeof takingFor>> = {}): Look => {
  const look = lookOf(
    kinds.map((kind) => ({ kind, params: kind === "distortion" ? { fit: "keep" } : {} })),
    { profile: B.id, focalLength: 50, stop: STOP },
    CAMERA.sensor,
  );
  return { ...look, camera: { ...look.camera, taking: { ...takingFor(from), stop: STOP, ...change } } };
};
const shot = () => lensOnCamera(A, 50, STOP);

const grid = (frame: Frame) => {
  const { channels: planes, pitch, axisX, axisY } = chartOf(frame, CAMERA.sensor);
  return measureGrid({
    planes,
    pitchX: pitch,
    pitchY: pitch,
    axisX,
    axisY,
    focalLength: 50,
    model: "radial-tangential",
  });
};

describe("footage shot through a lens, by an independent computation", () => {
  const charted = gridChart(shot());
  test("its distortion and lateral colour are taken off: dots within 0.1 px of a straight grid", () => {
    const before = grid(charted);
    const after = grid(through(off(A), charted));
    expect(before.residual).toBeLessThan(0.1);
    // What is left of distortion, at the frame's corner, px.
    const corner = Math.hypot(CAMERA.sensor.width, CAMERA.sensor.height) / 2 / 50;
    const left = (coefficients: Record<string, number>) =>
      (Math.abs(coefficients.k1! * corner ** 3 + coefficients.k2! * corner ** 5 + coefficients.k3! * corner ** 7) *
        50) /
      CAMERA.pitch;
    expect(left(before.coefficients)).toBeGreaterThan(5);
    expect(left(after.coefficients)).toBeLessThan(0.2);
    expect(after.residual).toBeLessThan(0.1);
    expect(Math.max(...after.lateral.red.map(Math.abs)) / 1000 / CAMERA.pitch).toBeLessThan(0.06);
  });

  test("another lens is put on in the same resampling, and what comes out is that lens alone", () => {
    const wanted = off(A, ["distortion", "lateralColour"]);
    const { coefficients, lateral } = grid(through(wanted, charted));
    const measured = {
      ...B,
      distortion: [{ focalLength: 50, model: "radial-tangential" as const, coefficients: coefficients as never }],
      lateralColour: [
        { focalLength: 50, heights: lateral.heights, red: lateral.red, blue: lateral.blue, uncertainty: 0 },
      ],
    };
    const rows = lensAgainst({ ...measured, mtf: [], illumination: [] }, B);
    expect(rows.filter(({ quantity, worst, bar }) => /distortion|lateral/.test(quantity) && !(worst <= bar))).toEqual(
      [],
    );
    const plan = compile(wanted, cabinetOf(demoProfiles()), { ...CAMERA, frame: 1, sourceKey: "x" }, { kind: "light" });
    expect(plan.steps.flatMap(({ operations }) => operations).filter(({ kernel }) => kernel === "warp")).toHaveLength(
      1,
    );
  });

  test("its fall-off is divided out: an even field within 0.3 %", () => {
    const field = flatField({ ...shot(), idealOf: () => [0, 0] }, false);
    const left = measureFlat(chartOf(through(off(A, [], { transmission: 0 }), field), CAMERA.sensor).channels.green);
    const lamp = measureFlat(chartOf(flatField({ ...shot(), light: () => 1 }, false), CAMERA.sensor).channels.green);
    left.relative.forEach((value, i) => expect(Math.abs(value / lamp.relative[i]! - 1)).toBeLessThan(0.003));
  });
});

test("its colour is taken off exactly, and put on again it is the footage", () => {
  const patch: Frame = {
    width: 64,
    height: 36,
    data: Float32Array.from({ length: 64 * 36 * 4 }, (_, i) => (i % 4 === 3 ? 1 : 0.1 + 0.2 * (i % 4))),
  };
  const none = { illumination: 0, distortion: 0, lateralColour: 0, contrast: 0 };
  const look = off(A, [], none);
  const again = {
    ...look,
    lens: { ...look.lens, profile: A.id },
    elements: lookOf([{ kind: "transmission" }]).elements,
  };
  const back = through(again, patch);
  patch.data.forEach((value, i) => expect(Math.abs(back.data[i]! - value)).toBeLessThan(1e-5));
  expect(through(look, patch).data).not.toEqual(patch.data);
  // At no overall strength, and at no share of anything, the footage is left as it is.
  expect(through({ ...look, strength: 0 }, patch).data).toEqual(patch.data);
  expect(through(off(A, [], { ...none, transmission: 0 }), patch).data).toEqual(patch.data);
});

test("contrast comes back within 0.05 to half of Nyquist, and no further than it may be raised", () => {
  const [WIDTH, HEIGHT] = [960, 540];
  const sensor = { width: 24.96, height: 14.04 };
  const slant = (6 * Math.PI) / 180;
  const edge: Frame = { width: WIDTH, height: HEIGHT, data: new Float32Array(WIDTH * HEIGHT * 4).fill(1) };
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const distance = (x - 479.5) * Math.cos(slant) + (y - 269.5) * Math.sin(slant);
      edge.data.fill(
        0.05 + 0.45 * Math.min(1, Math.max(0, distance + 0.5)),
        4 * (y * WIDTH + x),
        4 * (y * WIDTH + x) + 3,
      );
    }
  const region = ({ data }: Frame) => ({
    width: 90,
    height: 90,
    data: Float64Array.from(
      { length: 8100 },
      (_, i) => data[4 * ((225 + Math.floor(i / 90)) * WIDTH + 435 + (i % 90)) + 1]!,
    ),
  });
  const softened = through(
    lookOf([{ kind: "sharpness" }], { profile: A.id, focalLength: 50, stop: STOP }, sensor),
    edge,
  );
  const alone = { transmission: 0, illumination: 0, distortion: 0, lateralColour: 0 };
  const [was, soft, back] = [
    edge,
    softened,
    through({ ...off(A, [], alone), camera: { ...off(A, [], alone).camera, sensor } }, softened),
  ].map((frame) => measureEdge(region(frame)));
  for (const f of [0.05, 0.1, 0.15, 0.2, 0.25]) {
    expect(contrastAt(soft!, f)).toBeLessThan(contrastAt(was!, f));
    expect(Math.abs(contrastAt(back!, f) / contrastAt(was!, f) - 1)).toBeLessThan(0.05);
  }
});

test("a lens that is taken off and put on again changes no framing, and its panel says so", () => {
  const wide = lens("orrin-vale-25");
  const on = lookOf([{ kind: "distortion" }], { profile: wide.id, focalLength: 25, stop: 2.8 }, CAMERA.sensor);
  const again: Look = { ...on, camera: { ...on.camera, taking: takingFor(wide) } };
  const cautionsIn = (look: Look) => {
    const { context, elements } = lookAt(look, cabinetOf(demoProfiles()), { width: 1920, height: 1080, frame: 1 });
    return cautionsOf(elements[0]!, context);
  };
  expect(cautionsIn(on)).toEqual([
    expect.stringMatching(/^Framing changed by \d/),
    expect.stringMatching(/leaves the frame/),
  ]);
  expect(cautionsIn(again)).toEqual([]);
});
