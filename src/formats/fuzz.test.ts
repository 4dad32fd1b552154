import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { FileError } from "./error";
import { fixture } from "./fixtures/pattern";
import { readImage } from "./formats";
import { readClf } from "./clf/read";
import { readCube } from "./cube/cube";
import { readCdl } from "./cdl/cdl";

/** Cases a format; `npm run fuzz` sets more. */
const CASES = Number(process.env.HALO_FUZZ_CASES ?? 2000);

const FIXTURES: Record<string, string[]> = {
  exr: [
    "half-rle.exr",
    "half-zip.exr",
    "half-zips.exr",
    "half-piz.exr",
    "float-zip.exr",
    "tiled-zip.exr",
    "mipmap.exr",
    "parts.exr",
    "layers.exr",
    "lossy-pxr24.exr",
    "lossy-b44a.exr",
    "lossy-dwaa.exr",
  ],
  dpx: ["8-little.dpx", "10-big.dpx", "10-packed.dpx", "12-little.dpx", "16-big.dpx", "rgba.dpx"],
  png: ["eight.png", "sixteen.png"],
  tif: ["eight.tif", "sixteen.tif", "float.tif", "tiled.tif", "packbits.tif"],
  jpg: ["eight.jpg"],
  y4m: ["420.y4m", "422-10.y4m", "444.y4m"],
  "y4m.gz": ["422-10.y4m.gz"],
};

/**
 * Damage: bytes changed anywhere, more of them near the head, whole words set to what is absurd, and an end too soon.
 */
const ABSURD = [0, 1, 0x7f, 0xff, 0x7fffffff, 0xffffffff, 0x80000000];
const damage = fc.record({
  file: fc.nat(100),
  flips: fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.nat(255)), { maxLength: 8 }),
  head: fc.array(fc.tuple(fc.nat(600), fc.nat(255)), { maxLength: 3 }),
  words: fc.array(fc.tuple(fc.double({ min: 0, max: 1, noNaN: true }), fc.constantFrom(...ABSURD)), { maxLength: 2 }),
  keep: fc.oneof(fc.constant(1), fc.double({ min: 0, max: 1, noNaN: true })),
});
type Damage = typeof damage extends fc.Arbitrary<infer T> ? T : never;

function damaged(whole: Buffer, { flips, head, words, keep }: Damage): Buffer {
  const bytes = Buffer.from(whole.subarray(0, Math.max(1, Math.floor(whole.length * keep))));
  for (const [at, value] of flips) bytes[Math.floor(at * (bytes.length - 1))] = value;
  for (const [at, value] of head) if (at < bytes.length) bytes[at] = value;
  for (const [at, value] of words)
    if (bytes.length >= 4) bytes.writeUInt32LE(value, Math.floor(at * (bytes.length - 4)));
  return bytes;
}

/** What a picture may need beside itself, bytes: tables, the file, the runtime's own. */
const ROOM = 64 * 2 ** 20;
const MAX_MS_LENGTH = 4000;

describe.each(Object.keys(FIXTURES))("%s, damaged anyhow", (kind) => {
  const files = FIXTURES[kind]!.map((name) => [name, fixture(name)] as const);
  test(
    "gives a picture or one clear error that names the file, in bounded time and memory",
    async () => {
      await fc.assert(
        fc.asyncProperty(damage, async (how) => {
          const [name, whole] = files[how.file % files.length]!;
          const before = process.memoryUsage().arrayBuffers;
          const begun = performance.now();
          try {
            const { pixels, width, height } = await readImage(name, damaged(whole, how));
            expect(pixels.data.length).toBe(width * height * 4);
            expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(2 * pixels.data.byteLength + ROOM);
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
            expect((error as Error).message.startsWith(`${name}: `)).toBe(true);
          }
          expect(performance.now() - begun).toBeLessThan(MAX_MS_LENGTH);
        }),
        { numRuns: CASES, endOnFailure: true },
      );
    },
    CASES * 300,
  );
});

describe.each([
  ["clf", "chain.clf"],
  ["clf", "lut1d.clf"],
  ["cube", "shaper.cube"],
  ["ccc", ""],
] as const)("%s (%s), damaged anyhow", (kind, name) => {
  const whole = name
    ? fixture(`transforms/${name}`)
    : Buffer.from(
        '<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2"><ColorCorrection id="a"><SOPNode><Slope>1.1 1 0.9</Slope><Offset>0 0 0</Offset><Power>1 1 1</Power></SOPNode></ColorCorrection></ColorCorrectionCollection>',
      );
  const read = kind === "clf" ? readClf : kind === "cube" ? readCube : readCdl;
  test(
    "gives a transform or one clear error",
    () => {
      fc.assert(
        fc.property(damage, (how) => {
          try {
            read(`x.${kind}`, damaged(whole, how).toString("latin1"));
          } catch (error) {
            expect(error).toBeInstanceOf(FileError);
          }
        }),
        { numRuns: CASES, endOnFailure: true },
      );
    },
    CASES * 150,
  );
});
