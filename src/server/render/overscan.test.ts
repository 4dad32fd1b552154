import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";
import { cropped } from "../../core/image/image";
import { canvasOf } from "../../core/image/overscan";
import { readExr } from "../../formats/exr/read";
import { writeExr } from "../../formats/exr/write";
import { fixture } from "../../formats/fixtures/pattern";
import { lookOf, type Setup, through } from "../../testing/laboratory";
import { renderOne } from "../../testing/render-one";
import { startEngine } from "../engine/engine";
import { readers } from "../readers/pool";
import { steadyNow } from "../waiting/clock";

const { engine } = startEngine(1);
const folder = mkdtempSync(join(tmpdir(), "halo-overscan-"));
const file = join(__dirname, "../../formats/fixtures/overscan.exr");
const linear = encodingByName("linear-ap1");
const around = { left: 16, top: 8, right: 16, bottom: 8 };

async function rendered(setups: Setup[], scale = 1) {
  const output = join(folder, `out-${setups.map(({ kind }) => kind).join("-")}-${scale}.exr`);
  return renderOne(engine, { look: lookOf(setups), input: file, output, scale });
}

test("what a file holds around its display window is read where it is asked for; what is shown is the same", async () => {
  const shown = await readExr("overscan.exr", fixture("overscan.exr"));
  const whole = await readExr("overscan.exr", fixture("overscan.exr"), { overscan: true });
  expect([shown.width, shown.height, shown.overscan]).toEqual([64, 48, undefined]);
  expect([whole.width, whole.height, whole.overscan]).toEqual([96, 64, around]);
  expect([whole.info.width, whole.info.height]).toEqual([64, 48]);
  expect(cropped(whole).pixels.data).toEqual(shown.pixels.data);
});

test.each([
  ["distortion", [{ kind: "distortion", params: { fit: "keep" }, strength: 2 }]],
  ["glow, grain and a vignette", [{ kind: "glow" }, { kind: "vignette" }, { kind: "grain" }]],
] as [string, Setup[]][])("a render brings it in, and is of the shown size: %s", async (_, setups) => {
  const whole = await readExr("overscan.exr", fixture("overscan.exr"), { overscan: true });
  const { frame } = decodeImage(whole, linear);
  const wanted = through(lookOf(setups), frame, { overscan: around });
  const { width, height, pixels } = await rendered(setups);
  expect([width, height]).toEqual([64, 48]);
  expect(pixels.data).toEqual(wanted.data);
});

test("what lies around a frame goes out to the pixel, whatever its size, with depth and mattes, through glass", async () => {
  // 5 px on the left, 11 on the right, 3 above, none below.
  const [shown, has] = [
    { width: 64, height: 48 },
    { left: 5, top: 3, right: 11, bottom: 0 },
  ];
  const { width, height } = canvasOf(shown, has);
  const data = Float32Array.from({ length: 4 * width * height }, (_, i) => (i % 4 === 3 ? 1 : 0.1 + (i % 37) / 37));
  const z = Float32Array.from({ length: width * height }, (_, i) => 1 + (i % width));
  const matte = { name: "matte.V", type: "float" as const, data: z.map((value) => value / 100) };
  const windows = {
    data: { left: -5, top: -3, right: 74, bottom: 47 },
    display: { left: 0, top: 0, right: 63, bottom: 47 },
  };
  const input = join(folder, "odd.exr");
  writeFileSync(input, await writeExr({ width, height, data, z, layers: [matte] }, { depth: "float", windows }));
  const whole = await readExr("odd.exr", readFileSync(input), { overscan: true, layers: true });
  expect(whole.overscan).toEqual({ left: 8, top: 8, right: 16, bottom: 0 });
  // What is not there mirrors what is.
  expect(whole.z![whole.width * 8]).toBe(whole.z![whole.width * 8 + 5]);
  const output = join(folder, "odd-out.exr");
  const look = lookOf([{ kind: "trim", params: { exposure: 1 } }]);
  await renderOne(engine, { look, input, output, overscan: Infinity, layers: "keep" });
  const made = await readExr("odd-out.exr", readFileSync(output), { overscan: "all", layers: true });
  expect([made.info.dataWindow, made.info.displayWindow]).toEqual([windows.data, windows.display]);
  const off = data.findIndex(
    (light, i) => Math.abs((made.pixels.data[i] as number) - (i % 4 === 3 ? 1 : 2 * light)) > 1e-5,
  );
  expect([off, made.z, made.layers![0]!.data]).toEqual([-1, z, matte.data]);
});

test("half the size, and a frame that nothing acts on, have what is shown", async () => {
  const half = await rendered([{ kind: "distortion", params: { fit: "keep" } }], 0.5);
  expect([half.width, half.height]).toEqual([32, 24]);
  const shown = await readExr("overscan.exr", fixture("overscan.exr"));
  expect((await rendered([])).pixels.data).toEqual(shown.pixels.data);
});

test("frames are sent with it, or with what is shown alone, at any size", async () => {
  const task = (divide: number, overscan: boolean) => ({
    file: { path: file, choice: {}, black: false },
    encoding: { revision: "linear-ap1", encoding: "linear-ap1" },
    plane: "light" as const,
    divide,
    overscan,
  });
  const read = async (divide: number, overscan: boolean) => {
    const about = { key: `${divide} ${overscan}`, name: "overscan.exr", weight: 1, until: steadyNow() + 20_000 };
    return (await readers().run("frame", task(divide, overscan), about)).sent;
  };
  const whole = await read(2, true);
  expect([whole.samples.width, whole.samples.height]).toEqual([48, 32]);
  expect(whole.overscan).toEqual({ left: 8, top: 4, right: 8, bottom: 4 });
  const shown = await read(2, false);
  expect([shown.samples.width, shown.samples.height, shown.overscan]).toEqual([32, 24, undefined]);
});
