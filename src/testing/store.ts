import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import type { Ranges } from "../core/frame/ranges";
import { prepareDataFolder } from "../server/storage/data-folder";
import { openDatabase, type Database } from "../store/database";
import { addShot } from "../store/queries";
import { addProduction } from "../store/productions";
import { lookOf } from "./laboratory";

/** A data folder of a test's own, with its database open; HALO_DATA names it. */
export async function openTestStore() {
  const folder = mkdtempSync(join(tmpdir(), "halo-store-"));
  process.env.HALO_DATA = folder;
  prepareDataFolder(folder);
  return { folder, ...(await openDatabase(folder, "src/store/migrations", "dist/empty-database")) };
}

interface NewShot {
  footage?: string;
  frames?: Ranges;
  folder?: string;
  look?: ReturnType<typeof lookOf>;
}

/** Enters a shot of PNG frames, with a look. */
export async function addTestShot(
  db: Database,
  id: string,
  { footage = `f-${id}`, frames = [[1, 3]], folder, look }: NewShot = {},
) {
  await addProduction(db, "p", "Production");
  await addShot(
    db,
    {
      id: footage,
      folder: folder ?? `footage/${footage}`,
      pattern: "a.%04d.png",
      frames,
      width: 32,
      height: 18,
      depth: "8",
      format: "PNG",
    },
    {
      id,
      productionId: "p",
      footageId: footage,
      name: id,
      encoding: "srgb",
      encodingReason: "test",
      sensorWidth: 24.9,
      sensorHeight: 14,
    },
    look ?? lookOf([]),
  );
}
