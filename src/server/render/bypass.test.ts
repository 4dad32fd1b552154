import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { ENCODINGS, encodingByName } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";
import { encodeFrame, quantise, topOf, type Depth, type Pixels } from "../../core/image/image";
import { takingSchema, withTaking } from "../../core/look/taking";
import { FORMATS, readImage } from "../../formats/formats";
import { lookOf } from "../../testing/laboratory";
import { renderOne } from "../../testing/render-one";
import { startEngine } from "../engine/engine";

const { engine } = startEngine(1);
const folder = mkdtempSync(join(tmpdir(), "halo-bypass-"));
const WIDTH = 64;
const HEIGHT = 16;

/** Code values all over the range, the darkest and the brightest among them, as floats. */
const codes = (depth: Depth) =>
  Float32Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => {
    if ((i & 3) === 3) return 1;
    const number = (i >> 2) * 3 + (i & 3);
    return depth === "half" || depth === "float"
      ? Math.fround(((number * 37) % 4096) / 512 - 0.25)
      : Math.round((topOf(depth) * ((number * 1013) % 1021)) / 1020) / topOf(depth);
  });

async function passed(extension: string, depth: Depth, encoding: (typeof ENCODINGS)[number]["name"], view?: "plain") {
  const format = FORMATS.find(({ extensions }) => extensions.includes(extension))!;
  const [input, output] = [
    join(folder, `${encoding}-${depth}${extension}`),
    join(folder, `${encoding}-${depth}-out${extension}`),
  ];
  writeFileSync(input, await format.encode({ width: WIDTH, height: HEIGHT, data: codes(depth) }, { depth }));
  const inEncoding = encodingByName(encoding);
  const look = lookOf([], {}, undefined, view ?? "plain");
  const after = await renderOne(engine, {
    look,
    input,
    output,
    inEncoding,
    outEncoding: view ? null : inEncoding,
    depth,
  });
  const before = await readImage(input, readFileSync(input));
  expect(after.pixels.depth).toBe(before.pixels.depth);
  expect(after.pixels.data).toEqual(before.pixels.data);
}

describe.each(ENCODINGS.map(({ name }) => name))(
  "with no element on, code values come out as they came in: %s",
  (encoding) => {
    test.each(
      FORMATS.filter(({ name }) => !["JPEG", "Y4M", "Packed Y4M"].includes(name)).flatMap(({ extensions, write }) =>
        write.map((depth) => [extensions[0]!, depth] as const),
      ),
    )("%s, %s", (extension, depth) => passed(extension, depth, encoding));
  },
);

test.each(["8", "16"] as const)("a display picture of %s bits through the plain view of its display", (depth) =>
  passed(".png", depth, "srgb", "plain"),
);

describe.each(ENCODINGS.map(({ name }) => name))("to light and back by arithmetic: %s", (encoding) => {
  test.each(["8", "10", "12"] as const)("%s bits, every grey code and many colours", (depth) => {
    const top = topOf(depth);
    const data = new Uint16Array((top + 1) * 8);
    for (let code = 0; code <= top; code++) {
      data.set([code, code, code, top], code * 4);
      // Colours within a sixteenth of grey: every encoding holds them, log ones without light below zero.
      data.set([code, Math.max(0, code - (top >> 4)), Math.min(top, code + (top >> 4)), top], (top + 1 + code) * 4);
    }
    const pixels = { depth, data: depth === "8" ? Uint8Array.from(data) : data } as Pixels;
    const image = { width: top + 1, height: 2, pixels };
    const back = quantise(
      encodeFrame(decodeImage(image, encodingByName(encoding)).frame, encodingByName(encoding)).data,
      depth,
    );
    // Below film's base there is no light: what is that dark comes back as the base.
    const floor = encoding === "log-film" ? Math.ceil((95 / 1023) * top) + (top >> 4) + 2 : 0;
    const kept = (values: ArrayLike<number>) => Array.from(values).filter((_, i) => data[i - (i & 3)]! >= floor);
    expect(kept(back)).toEqual(kept(data));
  });
});

test("a lens that is taken off acts without any element: codes are not passed on", async () => {
  const size = { width: WIDTH, height: HEIGHT };
  const data = new Float32Array(4 * WIDTH * HEIGHT).fill(0.5);
  const [input, output] = [join(folder, "taken.exr"), join(folder, "taken-out.exr")];
  writeFileSync(input, await FORMATS[0]!.encode({ ...size, data }, { depth: "float" }));
  const look = lookOf([]);
  const taking = takingSchema.parse({ profile: "orrin-vale-25", focalLength: 25, stop: 1.4 });
  const after = await renderOne(engine, { look: withTaking(look, taking), input, output });
  // Its fall-off is divided out: corners are lighter than the middle.
  const at = (x: number, y: number) => after.pixels.data[4 * (y * WIDTH + x) + 1]!;
  expect(at(1, 1)).toBeGreaterThan(1.3 * at(WIDTH / 2, HEIGHT / 2));
});
