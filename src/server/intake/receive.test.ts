import { createHash } from "node:crypto";
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeEach, describe, expect, test } from "vitest";
import { fixture } from "../../formats/fixtures/pattern";
import { findingOf } from "./finding";
import { allowedFolder } from "./places";
import { hasContent, unusedContent } from "../storage/content";
import { giveUp, offered, receive } from "./receive";

/** All that is left of a file of so many bytes. */
const piece = (at: number, size: number) => ({ at, until: size, size });

const stream = (bytes: Buffer) => new Blob([new Uint8Array(bytes)]).stream() as ReadableStream<Uint8Array>;
const batch = "test-batch-one";
const exr = fixture("half-zip.exr");

beforeEach(() => {
  process.env.HALO_DATA = mkdtempSync(join(tmpdir(), "halo-intake-"));
});
const waiting = (name: string) => join(process.env.HALO_DATA!, "intake", batch, name);

describe("sending", () => {
  test("goes on where it broke off, and leaves nothing that looks whole before it is", async () => {
    await expect(receive(batch, ["a.exr"], piece(0, exr.length), stream(exr.subarray(0, 1000)))).rejects.toThrow(
      /broke off after 1000 of/,
    );
    expect(existsSync(waiting("a.exr"))).toBe(false);
    expect((await findingOf({ kind: "batch", id: batch })).groups).toEqual([]);
    expect(await offered(batch, [{ path: "a.exr", size: exr.length }])).toEqual([{ path: "a.exr", received: 1000 }]);
    await expect(receive(batch, ["a.exr"], piece(5, exr.length), stream(exr.subarray(5)))).rejects.toThrow(
      /1000 bytes are here/,
    );
    const inTwo = { at: 1000, until: 1500, size: exr.length };
    expect(await receive(batch, ["a.exr"], inTwo, stream(exr.subarray(1000, 1500)))).toBeNull();
    await receive(batch, ["a.exr"], piece(1500, exr.length), stream(exr.subarray(1500)));
    expect(readFileSync(waiting("a.exr")).equals(exr)).toBe(true);
  });
  test("keeps the same content once, whatever its name, and need not send it again", async () => {
    await receive(batch, ["a.exr"], piece(0, exr.length), stream(exr));
    await receive(batch, ["deep", "b.exr"], piece(0, exr.length), stream(exr));
    expect(statSync(waiting("a.exr")).ino).toBe(statSync(waiting("deep/b.exr")).ino);
    const sha256 = createHash("sha256").update(exr).digest("hex");
    expect(await offered("another-batch", [{ path: "c.exr", size: exr.length, sha256 }])).toEqual([
      { path: "c.exr", received: exr.length },
    ]);
  });
  test("what was not known to be so long is kept where it is whole, and begun anew where it broke off", async () => {
    await receive(batch, ["a.exr"], piece(0, exr.length), stream(exr));
    await expect(receive(batch, ["b.exr"], piece(0, exr.length), stream(exr.subarray(0, 1000)))).rejects.toThrow(
      /broke off/,
    );
    expect(await offered(batch, [{ path: "a.exr" }, { path: "b.exr" }, { path: "c.exr" }])).toEqual([
      { path: "a.exr", received: exr.length },
      { path: "b.exr", received: 0 },
      { path: "c.exr", received: 0 },
    ]);
    await receive(batch, ["b.exr"], piece(0, exr.length), stream(exr));
    expect(readFileSync(waiting("b.exr")).equals(exr)).toBe(true);
  });
  test("other bytes of equal size are not what is offered", async () => {
    await receive(batch, ["a.exr"], piece(0, exr.length), stream(exr));
    const offer = { path: "a.exr", size: exr.length, sha256: "0".repeat(64) };
    expect(await offered(batch, [offer])).toEqual([{ path: "a.exr", received: 0 }]);
    expect(existsSync(waiting("a.exr"))).toBe(false);
  });
  test("one that stands still gives way to its retry, which goes on from there", async () => {
    let begun!: ReadableStreamDefaultController<Uint8Array>;
    const stalled = new ReadableStream<Uint8Array>({ start: (controller) => void (begun = controller) });
    begun.enqueue(new Uint8Array(exr.subarray(0, 1000)));
    const first = receive(batch, ["a.exr"], piece(0, exr.length), stalled).catch((error: Error) => error.message);
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(await offered(batch, [{ path: "a.exr", size: exr.length }])).toEqual([{ path: "a.exr", received: 1000 }]);
    expect(await first).toMatch(/broke off after 1000/);
    await receive(batch, ["a.exr"], piece(1000, exr.length), stream(exr.subarray(1000)));
    expect(readFileSync(waiting("a.exr")).equals(exr)).toBe(true);
  }, 20_000);
  test("one file sent several times at once is one upload, and equal files are one content", async () => {
    const names = ["a.exr", "a.exr", "b.exr", "c.exr", "a.exr", "c.exr"];
    const sent = names.map((name) => receive(batch, [name], piece(0, exr.length), stream(exr)));
    const found = await Promise.all(sent);
    expect(new Set(found.map((one) => `${one!.width} ${one!.bytes}`))).toEqual(new Set([`48 ${exr.length}`]));
    for (const name of names) expect(readFileSync(waiting(name)).equals(exr)).toBe(true);
    expect(new Set(names.map((name) => statSync(waiting(name)).ino)).size).toBe(1);
    expect(readdirSync(join(process.env.HALO_DATA!, "intake", batch)).sort()).toEqual(["a.exr", "b.exr", "c.exr"]);
  });
  test("a body longer than it was said to be leaves nothing, and a name of another script may be as long as the system keeps", async () => {
    await expect(receive(batch, ["long.exr"], piece(0, 100), stream(exr))).rejects.toThrow(/longer than it was said/);
    expect(existsSync(waiting("long.exr.part"))).toBe(false);
    await expect(receive(batch, [`${"ü".repeat(150)}.exr`], piece(0, exr.length), stream(exr))).rejects.toThrow(
      /is not a file name/,
    );
    await receive(batch, [`${"ü".repeat(90)} 100% a%20b.exr`], piece(0, exr.length), stream(exr));
    expect(existsSync(waiting(`${"ü".repeat(90)} 100% a%20b.exr`))).toBe(true);
  });
  test("a batch that is given up frees its room, and what others use stays", async () => {
    await receive(batch, ["a.exr"], piece(0, exr.length), stream(exr));
    await receive("another-batch", ["b.exr"], piece(0, exr.length), stream(exr));
    await giveUp(batch);
    expect(existsSync(waiting("a.exr"))).toBe(false);
    expect(await unusedContent()).toEqual([]);
    const sha256 = createHash("sha256").update(exr).digest("hex");
    expect(await hasContent(sha256, exr.length)).toBe(true);
    await giveUp("another-batch");
    expect(await hasContent(sha256, exr.length)).toBe(false);
    // Offered by its hash where it has just gone, it is to be sent again.
    expect(await offered(batch, [{ path: "c.exr", size: exr.length, sha256 }])).toEqual([
      { path: "c.exr", received: 0 },
    ]);
  });
  test("what is no picture frees its room at once", async () => {
    const bytes = Buffer.concat([exr.subarray(0, 4), Buffer.alloc(5000, 7)]);
    await expect(receive(batch, ["bad.exr"], piece(0, bytes.length), stream(bytes))).rejects.toThrow(/bad\.exr: /);
    const content = join(process.env.HALO_DATA!, "content");
    expect(existsSync(content) ? readdirSync(content) : []).toEqual([]);
  });
  test("refuses what is no picture, by name, and does not keep it", async () => {
    await expect(receive(batch, ["note.txt"], piece(0, 2), stream(Buffer.from("hi")))).rejects.toThrow(
      /note\.txt: is of a kind that is not read/,
    );
    await expect(receive(batch, ["bad.exr"], piece(0, 2), stream(Buffer.from("hi")))).rejects.toThrow(
      /bad\.exr: is not an OpenEXR file/,
    );
    expect(existsSync(waiting("bad.exr"))).toBe(false);
  });
  test.each([[["..", "a.exr"]], [["a/b.exr"]], [[".hidden.exr"]], [[]]])("refuses the path %j", async (path) => {
    await expect(receive(batch, path, piece(0, exr.length), stream(exr))).rejects.toThrow(/is not a file name/);
  });
});

test("sequences, gaps and odd ones out are told before anything is taken in", async () => {
  for (const number of ["0001", "0002", "0004"])
    await receive(batch, ["roll", `plate.${number}.exr`], piece(0, exr.length), stream(exr));
  const png = fixture("eight.png");
  await receive(batch, ["still.png"], piece(0, png.length), stream(png));
  const window = fixture("window.exr");
  await receive(batch, ["roll", "plate.0005.exr"], piece(0, window.length), stream(window));
  const { groups, refused } = await findingOf({ kind: "batch", id: batch });
  expect(groups.map(({ folder, pattern, numbers, gaps, depth }) => [folder, pattern, numbers, gaps, depth])).toEqual([
    [
      "roll",
      "plate.%04d.exr",
      [
        [1, 2],
        [4, 4],
      ],
      [[3, 3]],
      "half",
    ],
    ["", "still.png", [[1, 1]], [], "8"],
  ]);
  expect(refused).toEqual([{ name: "roll/plate.0005.exr", reason: "is 60x50, half; its sequence is 48x40, half" }]);
});

describe("footage roots", () => {
  const root = mkdtempSync(join(tmpdir(), "halo-root-"));
  const outside = mkdtempSync(join(tmpdir(), "halo-outside-"));
  mkdirSync(join(root, "day one"));
  writeFileSync(join(root, "day one", "a.exr"), exr);
  writeFileSync(join(outside, "secret.exr"), exr);
  symlinkSync(outside, join(root, "way out"));
  symlinkSync(join(outside, "secret.exr"), join(root, "day one", "linked.exr"));
  test("a folder inside is looked into; one outside, a way up, or a link that leads out is refused", async () => {
    process.env.HALO_FOOTAGE = root;
    expect(await allowedFolder(join(root, "day one"))).toBe(join(root, "day one"));
    for (const path of [outside, join(root, ".."), `${root}-other`, "relative", join(root, "way out")])
      await expect(allowedFolder(path)).rejects.toThrow(/lies outside the footage roots/);
    const { groups, refused } = await findingOf({ kind: "folder", path: join(root, "day one") });
    expect(groups.map(({ pattern }) => pattern)).toEqual(["a.exr"]);
    expect(refused).toEqual([{ name: "linked.exr", reason: "leads outside the footage roots" }]);
    delete process.env.HALO_FOOTAGE;
    await expect(allowedFolder(root)).rejects.toThrow(/No footage roots are set/);
  });
});
