import { Worker } from "node:worker_threads";
import { afterAll, expect, test } from "vitest";
import { fixture } from "../../formats/fixtures/pattern";
import { formatOf, readImage } from "../../formats/formats";
import { digestOf } from "../storage/content";
import { built } from "../../formats/project";
import { startEncoder } from "./encoding";

const encoder = startEncoder();
afterAll(() => encoder.close());

const pictureOf = async (name: string) => {
  const { width, height, pixels, layers, info } = await readImage(name, fixture(name), { layers: true });
  return { picture: { width, height, data: Float32Array.from(pixels.data), layers }, info };
};

test.each([
  ["carried.exr", "x.exr", "half"],
  ["parts.exr", "x.exr", "float"],
  ["carried.dpx", "x.dpx", "10"],
  ["sixteen.png", "x.png", "16"],
] as const)("%s becomes the same bytes in a thread of its own, all that it carries too", async (from, path, depth) => {
  const { picture, info } = await pictureOf(from);
  const options = { ...info, depth };
  const here = await formatOf(path)!.encode((await pictureOf(from)).picture, options);
  const { bytes, sha256 } = await encoder.encode({ path, picture, options });
  expect(Buffer.from(bytes).equals(here)).toBe(true);
  expect(sha256).toBe(digestOf(here));
  // Handed over, not copied.
  expect(picture.data).toHaveLength(0);
});

test("what cannot be written says why, and the thread goes on", async () => {
  const { picture } = await pictureOf("sixteen.png");
  const wrong = encoder.encode({ path: "x.png", picture, options: { depth: "float" } });
  await expect(wrong).rejects.toThrow("PNG is written with 8 or 16 bits, not float");
  const next = (await pictureOf("sixteen.png")).picture;
  expect(
    (await encoder.encode({ path: "x.png", picture: next, options: { depth: "16" } })).bytes.length,
  ).toBeGreaterThan(100);
});

test.each([
  ["ends", "process.exit(0)"],
  ["breaks", 'throw new Error("it broke")'],
])("a thread that %s is told of, and another takes its place", async (_, what) => {
  const bad = `require("node:worker_threads").parentPort.on("message", () => { ${what}; });`;
  const threads = [() => new Worker(bad, { eval: true }), () => new Worker(built("encoder.mjs"))];
  const own = startEncoder(() => threads.shift()!());
  const order = async () => {
    const { picture } = await pictureOf("sixteen.png");
    return { path: "x.png", picture, options: { depth: "16" as const } };
  };
  await expect(own.encode(await order())).rejects.toThrow(/it broke|ended/);
  expect((await own.encode(await order())).bytes.length).toBeGreaterThan(100);
  await own.close();
});
