import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { lensSchema, type LensProfile } from "../../core/profile/profiles";
import { lookSchema } from "../../core/look/look";
import { addShippedProfiles, allProfiles } from "../../store/profiles";
import { findVersion, keepVersion } from "../../store/versions";
import { addTestShot, openTestStore } from "../../testing/store";
import { snapshotOf } from "../render/snapshot";
import { findShot } from "../../store/queries";
import { asKept, cabinetEntries, changeInCabinet, keepInCabinet, removeFromCabinet, revisionsIn } from "./cabinet";

const lens = (transmission: number): LensProfile =>
  lensSchema.parse({
    format: "pale-halo-lens",
    version: 1,
    id: "own-50",
    name: "Own 50",
    transmission: { wavelengths: [400, 700], values: [transmission, 0.9] },
  });
const through = (profile: string) =>
  lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name: "l",
    lens: { profile, focalLength: 50, stop: 2 },
    elements: [],
  });

test("one's own profile is kept under an id of its own, changed by revision, and removed when nothing uses it", async () => {
  const { db, client } = await openTestStore();
  const first = await keepInCabinet(db, lens(0.8), null);
  const second = await keepInCabinet(db, lens(0.7), "own-50");
  expect([first.profile.id, second.profile.id, second.copiedFrom]).toEqual(["own-50", "own-50-2", "own-50"]);
  const changed = await changeInCabinet(db, "own-50", lens(0.6), 1);
  expect(changed).toMatchObject({ revision: 2, profile: { transmission: { values: [0.6, 0.9] } } });
  await expect(changeInCabinet(db, "own-50", lens(0.5), 1)).rejects.toThrow(/changed in another window.*revision 2/);
  await addTestShot(db, "s", { look: through("own-50") });
  await expect(removeFromCabinet(db, "own-50")).rejects.toThrow(/is used by s; choose other glass/);
  await removeFromCabinet(db, "own-50-2");
  expect((await cabinetEntries(db)).map(({ profile }) => profile.id)).toEqual(["own-50"]);
  await client.close();
});

test("what ships with the application is neither changed nor removed", async () => {
  const { db, client } = await openTestStore();
  await addShippedProfiles(db, demoProfiles());
  const { profile, revision } = (await cabinetEntries(db)).find(({ shipped }) => shipped)!;
  await expect(changeInCabinet(db, profile.id, profile, revision)).rejects.toThrow(/ships with the application/);
  await expect(removeFromCabinet(db, profile.id)).rejects.toThrow(/ships with the application/);
  await client.close();
});

test("a version goes on using the revision it was kept with, and so does a render of it", async () => {
  const { db, client } = await openTestStore();
  await keepInCabinet(db, lens(0.8), null);
  await addTestShot(db, "s", {});
  const look = through("own-50");
  const { id } = await keepVersion(db, "s", undefined, look, "", await revisionsIn(db, look));
  const kept = async () => {
    const { body, glass } = (await findVersion(db, "s", id))!;
    return asKept(db, body, glass);
  };
  expect((await kept()).lens.profile).toBe("own-50");
  await changeInCabinet(db, "own-50", lens(0.5), 1);
  const pinned = await kept();
  expect(pinned.lens.profile).toBe("own-50@1");
  const { profiles } = await snapshotOf(db, pinned, (await findShot(db, "s"))!, null);
  expect(profiles).toMatchObject([{ id: "own-50@1", transmission: { values: [0.8, 0.9] } }]);
  expect((await allProfiles(db)).map((one) => one.id)).toEqual(["own-50", "own-50@1"]);
  await expect(removeFromCabinet(db, "own-50")).rejects.toThrow(/is used by a version of s/);
  await client.close();
});
