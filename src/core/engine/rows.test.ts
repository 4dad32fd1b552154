import { expect, test } from "vitest";
import { startEngine } from "../../server/engine/engine";
import { demoLooks } from "../../demo/looks";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf, scene } from "../../testing/laboratory";
import { compile } from "../compile/compile";
import type { Look } from "../look/look";
import { ELEMENTS } from "../elements/registry";
import { cabinetOf } from "../profile/profiles";

const cabinet = cabinetOf(demoProfiles());
const WIDTH = 401;
const HEIGHT = 483;
const source = scene(WIDTH, HEIGHT);
const plate = scene(WIDTH, HEIGHT);
let serial = 0;

/** A look's picture, all of it or some rows, as 8-bit RGBA. */
function made(look: Look, rows?: readonly [number, number], engine = startEngine(2)) {
  const request = { width: WIDTH, height: HEIGHT, frame: 3, sourceKey: `rows ${serial++}`, hasDepth: false };
  const plan = compile(look, cabinet, request, { kind: "display" });
  const bytes = engine.engine.run(plan, (further) => (further ? plate.data : source.data), undefined, rows).slice();
  engine.close();
  return bytes;
}

const BANDS = [
  [0, 40],
  [200, 290],
  [443, HEIGHT],
] as const;

/** Whether rows of a picture are those of the whole one, byte for byte. */
function expectSame(look: Look, name: string): void {
  const whole = made(look);
  for (const [first, end] of BANDS) {
    const part = made(look, [first, end]);
    const [a, b] = [first * WIDTH * 4, end * WIDTH * 4];
    const off = part.subarray(a, b).findIndex((code, i) => code !== whole[a + i]);
    expect(off < 0 ? null : Math.floor(off / (WIDTH * 4)) + first, `${name}, rows ${first} to ${end}`).toBeNull();
  }
}

test.each(ELEMENTS.map(({ kind }) => kind))("%s: some rows of its picture are those of the whole one", (kind) => {
  expectSame(lookOf([{ kind, strength: 1.3 }], { profile: "hask-scope-40", focalLength: 40, stop: 2.8 }), kind);
});

test("so they are of the demo's looks, and of areas and mixes", () => {
  for (const [id, look] of Object.entries(demoLooks())) expectSame(look, id);
  const within = lookOf([
    {
      kind: "glow",
      where: { areas: [{ kind: "shape", x: 10, y: -20, width: 60, height: 40 }], feather: 12 },
      mix: 0.6,
    },
    { kind: "distortion", params: { fit: "all" }, strength: 2 },
    { kind: "sharpen" },
  ]);
  expectSame(within, "within an area");
});

test("rows that were made are kept, and more of them are made when more are wanted", () => {
  const { engine, close } = startEngine(2, 64 * 2 ** 20);
  const look = lookOf([{ kind: "diffusion" }, { kind: "distortion" }, { kind: "grain" }]);
  const whole = made(look);
  const request = { width: WIDTH, height: HEIGHT, frame: 3, sourceKey: "kept rows" };
  const plan = compile(look, cabinet, request, { kind: "display" });
  let brought = 0;
  const run = (rows?: readonly [number, number]) => {
    const bytes = engine.run(plan, () => (brought++, source.data), undefined, rows);
    const [first, end] = rows ?? [0, HEIGHT];
    const off = bytes
      .subarray(first * WIDTH * 4, end * WIDTH * 4)
      .findIndex((code, i) => code !== whole[first * WIDTH * 4 + i]);
    expect(off).toBe(-1);
  };
  run([100, 200]);
  run([120, 180]);
  run([90, 300]);
  run();
  run([0, 20]);
  expect(brought).toBe(1);
  close();
});
