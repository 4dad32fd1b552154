import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { decodeImage } from "../../core/image/decode";
import { encodingByName } from "../../core/colour/encodings";
import { fixture } from "../../formats/fixtures/pattern";
import { writeExr } from "../../formats/exr/write";
import { readImage } from "../../formats/formats";
import { bytesOfSamples, unpackSamples } from "../../core/image/samples";
import { readers } from "./pool";
import { steadyNow } from "../waiting/clock";

const folder = mkdtempSync(join(tmpdir(), "halo-pool-"));
const path = join(folder, "half-zip.exr");
writeFileSync(path, fixture("half-zip.exr"));
const frameTask = (divide: number) => ({
  file: { path, choice: {}, black: false },
  encoding: { revision: "linear-rec709", encoding: "linear-rec709" },
  plane: "light" as const,
  divide,
  overscan: false,
});
const about = (key: string) => ({ key, name: "half-zip.exr", weight: 1, until: steadyNow() + 20_000 });

describe("threads that read pictures", () => {
  test("give the light that reading here gives, whole and made smaller by area", async () => {
    const { whole, sent } = await readers().run("frame", frameTask(2), about("light"));
    const small = { ...sent.samples, data: unpackSamples(sent.samples, sent.samples.data.buffer) };
    const { frame } = decodeImage(await readImage(path, fixture("half-zip.exr")), encodingByName("linear-rec709"));
    expect([whole!.width, whole!.height, small.width, small.height]).toEqual([48, 40, 24, 20]);
    expect(Buffer.from(whole!.data.buffer).equals(Buffer.from(frame.data.buffer))).toBe(true);
    const mean = [0, 1, 48, 49].reduce((sum, at) => sum + frame.data[at * 4]!, 0) / 4;
    expect(small.data[0]).toBeCloseTo(mean, 5);
  });

  test("make a large frame smaller without sharing it whole: the same mean of what is read", async () => {
    const size = { width: 4096, height: 1040 };
    const data = Float32Array.from({ length: size.width * size.height * 4 }, (_, i) =>
      (i & 3) === 3 ? 1 : ((i * 7919) % 1024) / 512,
    );
    const large = join(folder, "large.exr");
    writeFileSync(large, await writeExr({ ...size, data }, { depth: "half", compression: "none" }));
    const task = { ...frameTask(4), file: { path: large, choice: {}, black: false } };
    const { whole, sent } = await readers().run("frame", task, { ...about("large"), name: "large.exr" });
    expect(whole).toBeUndefined();
    const small = unpackSamples(sent.samples, sent.samples.data.buffer);
    const { frame } = decodeImage(await readImage(large, readFileSync(large)), encodingByName("linear-rec709"));
    for (const [x, y] of [
      [0, 0],
      [511, 130],
      [1023, 259],
    ] as const) {
      let sum = 0;
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < 4; i++) sum += frame.data[((4 * y + j) * size.width + 4 * x + i) * 4]!;
      expect(small[(y * 1024 + x) * 4]).toBeCloseTo(sum / 16, 5);
    }
  });
  test("hand whole numbers on as they are, with what makes light of them", async () => {
    const name = "sixteen.png";
    const png = join(folder, name);
    writeFileSync(png, fixture(name));
    const task = {
      ...frameTask(1),
      file: { path: png, choice: {}, black: false },
      encoding: { revision: "srgb", encoding: "srgb" },
    };
    const { whole, sent } = await readers().run("frame", task, { ...about("codes"), name });
    expect([sent.samples.depth, sent.samples.data.byteLength]).toEqual(["16", 48 * 40 * 3 * 2]);
    const bytes = Buffer.concat(bytesOfSamples(sent.samples));
    const light = unpackSamples(sent.samples, bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
    expect(Buffer.from(light.buffer).equals(Buffer.from(whole!.data.buffer))).toBe(true);
    const { frame } = decodeImage(await readImage(png, fixture(name)), encodingByName("srgb"));
    expect(Buffer.from(light.buffer).equals(Buffer.from(frame.data.buffer))).toBe(true);
  });
  test("read once for equal requests", async () => {
    const both = await Promise.all([1, 2].map(() => readers().run("frame", frameTask(1), about("same"))));
    expect(both[0]).toBe(both[1]);
  });
  test("name what cannot be read, and go on with the next", async () => {
    const bad = join(folder, "bad.exr");
    writeFileSync(bad, fixture("half-zip.exr").subarray(0, 700));
    const check = { path: bad, name: "deep/bad.exr" };
    await expect(readers().run("check", check, about("bad"))).rejects.toThrow(/^deep\/bad\.exr: /);
    const good = await readers().run("check", { path, name: "good.exr" }, about("good"));
    expect(good).toMatchObject({ width: 48, height: 40, format: "OpenEXR", depth: "half" });
  });
  test("do not begin what nobody waits for any more", async () => {
    const control = new AbortController();
    const gone = readers().run("frame", frameTask(1), { ...about("gone"), signal: control.signal });
    control.abort();
    await expect(gone).rejects.toThrow(/Nobody waits/);
    await expect(readers().run("frame", frameTask(1), { ...about("gone"), signal: control.signal })).rejects.toThrow();
  });
});
