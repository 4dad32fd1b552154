import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";
import { cropped } from "../../core/image/image";
import { readExr } from "../../formats/exr/read";
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
