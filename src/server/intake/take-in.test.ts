import { existsSync, mkdirSync, readdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { expect, test } from "vitest";
import { findShot, lookOf } from "../../store/queries";
import { addProduction } from "../../store/productions";
import { openTestStore } from "../../testing/store";
import { fixture } from "../../formats/fixtures/pattern";
import { PRODUCTION } from "../seed/demo";
import { receive } from "./receive";
import { sweepFootage, takeIn } from "./take-in";

/** All that is left of a file of so many bytes. */
const piece = (at: number, size: number) => ({ at, until: size, size });

const exr = fixture("half-zip.exr");
const stream = (bytes: Buffer) => new Blob([new Uint8Array(bytes)]).stream() as ReadableStream<Uint8Array>;
const location = { kind: "batch" as const, id: "take-in-batch" };
const decision = { folder: "", pattern: "roll.%04d.exr", first: 1, take: true, gaps: "hold" as const };

test("a batch taken in twice at once becomes its shots once; what a dead server had half taken in goes, and the rest stays", async () => {
  const { db, client, folder } = await openTestStore();
  await addProduction(db, PRODUCTION.id, PRODUCTION.name);
  for (const number of [1, 2, 5])
    await receive(location.id, [`roll.000${number}.exr`], piece(0, exr.length), stream(exr));
  const both = await Promise.allSettled([takeIn(db, location, [decision]), takeIn(db, location, [decision])]);
  expect(both.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
  const taken = both.find((entry) => entry.status === "fulfilled")!;
  const { shot, footage } = (await findShot(db, taken.value.shots[0]!))!;
  expect([shot.name, footage.frames]).toEqual([
    "roll",
    [
      [1, 2],
      [5, 5],
    ],
  ]);
  expect(readdirSync(join(folder, footage.folder)).length).toBe(3);
  const half = join(folder, "footage", "0123456789abcdef01234567");
  mkdirSync(half);
  writeFileSync(join(half, "a.exr"), exr);
  mkdirSync(join(folder, "footage", "somebody's own"));
  await sweepFootage(db);
  expect(existsSync(half)).toBe(false);
  expect(readdirSync(join(folder, "footage")).sort()).toEqual([footage.id, "somebody's own"].sort());
  await client.close();
});

test("a file's pixel aspect is the squeeze its shot begins with", async () => {
  const { db, client } = await openTestStore();
  await addProduction(db, PRODUCTION.id, PRODUCTION.name);
  const squeezed = fixture("carried.exr");
  const own = { kind: "batch" as const, id: "squeezed-batch" };
  await receive(own.id, ["scope.exr"], piece(0, squeezed.length), stream(squeezed));
  const taken = await takeIn(db, own, [{ ...decision, pattern: "scope.exr", first: 1 }]);
  const { shot } = (await findShot(db, taken.shots[0]!))!;
  expect(shot.squeeze).toBe(2);
  const { look } = (await lookOf(db, shot.id))!;
  expect(look).toMatchObject({ camera: { squeeze: 2 } });
  await client.close();
});
