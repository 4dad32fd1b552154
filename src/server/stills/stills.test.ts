import { existsSync, mkdirSync, readdirSync } from "node:fs";
import { join } from "node:path";
import sharp from "sharp";
import { beforeAll, expect, test } from "vitest";
import { decodeImage } from "../../core/image/decode";
import { encodingByName } from "../../core/colour/encodings";
import { readExr } from "../../formats/exr/read";
import { listStills } from "../../store/library";
import { lookOf, through } from "../../testing/laboratory";
import { addTestShot, openTestStore } from "../../testing/store";
import { loadImage } from "../../formats/formats";
import { removeShotNamed, usesOfShot } from "../removal/remove";
import { stillFile, stillPicture } from "./deliver";
import { keepStill, removeStillNamed, stillNamed } from "./keep";
import { folderOfStill } from "./place";
import { steadyNow } from "../waiting/clock";

let db: Awaited<ReturnType<typeof openTestStore>>["db"];
let folder: string;
const look = lookOf([{ kind: "trim", params: { exposure: 1 } }], {}, undefined, "plain");

beforeAll(async () => {
  ({ db, folder } = await openTestStore());
  const frames = join(folder, "footage/f-a");
  mkdirSync(frames, { recursive: true });
  const codes = Buffer.from(Array.from({ length: 32 * 18 * 3 }, (_, i) => (i * 7) % 256));
  for (const name of ["a.0001.png", "a.0002.png"])
    await sharp(codes, { raw: { width: 32, height: 18, channels: 3 } })
      .png()
      .toFile(join(frames, name));
  await addTestShot(db, "a", { frames: [[1, 2]] });
});

test("a still is the light that the path leaves, in half floats, and its picture is what the view makes of it", async () => {
  const still = await keepStill(db, { shotId: "a", frame: 2, look, note: "first" });
  expect(await listStills(db)).toMatchObject([{ id: still.id, shotId: "a", frame: 2, note: "first" }]);
  const kept = await readExr("still", await stillFile(still));
  expect(kept.info.depth).toBe("half");
  const { frame } = decodeImage(await loadImage(join(folder, "footage/f-a/a.0002.png")), encodingByName("srgb"));
  const expected = through(look, frame).data;
  const found = decodeImage(kept, encodingByName("linear-ap1")).frame.data;
  const HALF = 2 ** -11;
  for (let i = 0; i < expected.length; i++)
    expect(Math.abs(found[i]! - expected[i]!)).toBeLessThanOrEqual(Math.abs(expected[i]!) * HALF + 1e-6);
  const deadline = { until: steadyNow() + 60_000 };
  const whole = await stillNamed(db, String(still.id));
  const png = await sharp(await stillPicture(db, whole, "png", null, deadline)).metadata();
  expect([png.width, png.height, png.format]).toEqual([32, 18, "png"]);
  const small = await sharp(await stillPicture(db, whole, "jpg", 16, deadline)).metadata();
  expect([small.width, small.format]).toEqual([16, "jpeg"]);
});

test("a still that cannot be made leaves nothing behind", async () => {
  const before = await listStills(db);
  await expect(keepStill(db, { shotId: "a", frame: 7, look })).rejects.toMatchObject({ kind: "missing" });
  const plate = lookOf([{ kind: "plate", params: { footage: "gone" } }]);
  await expect(keepStill(db, { shotId: "a", frame: 1, look: plate })).rejects.toThrow("gone");
  expect(await listStills(db)).toEqual(before);
  expect(readdirSync(join(folder, "stills"))).toEqual(before.map(({ id }) => String(id).padStart(4, "0")));
});

test("a still goes with its shot, which says so before, and by itself", async () => {
  const second = await keepStill(db, { shotId: "a", frame: 1, look });
  await removeStillNamed(db, String(second.id));
  expect(existsSync(folderOfStill(second.id))).toBe(false);
  const [first] = await listStills(db);
  expect((await usesOfShot(db, "a")).goes).toContain("1 still");
  await removeShotNamed(db, "a");
  expect(await listStills(db)).toEqual([]);
  expect(existsSync(folderOfStill(first!.id))).toBe(false);
});
