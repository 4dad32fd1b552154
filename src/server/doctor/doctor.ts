import { existsSync, statSync } from "node:fs";
import { mkdir, readdir, rename, rm } from "node:fs/promises";
import { basename, join } from "node:path";
import { framesIn } from "../../core/frame/ranges";
import type { Database } from "../../store/database";
import { allRenders, type Footage, listFootage, type ListedRender, shotsOf } from "../../store/queries";
import { reopen } from "../../store/farm";
import { footagePattern } from "../shots/shot";
import { fileOf, parseStored } from "../footage/sequence";
import { fileNameOf, folderOf } from "../render/deliver";
import { liesElsewhere } from "../storage/named-roots";
import { filesMade } from "../render/made-files";
import { listStills, removeStill } from "../../store/library";
import { pictureOfStill } from "../stills/deliver";
import { folderOfStill } from "../stills/place";
import { removeFootageNamed } from "../removal/remove";
import { hashOf, sweepContent, unusedContent } from "../storage/content";
import { sweepUnfinished, UNFINISHED } from "../storage/files";

/** Something in the database that is not on the disk, or on the disk and not in the database. */
export interface Fault {
  /** In words, with its name. */
  what: string;
  /** What `--mend` does about it, in words; null where only the user can. */
  mends: string | null;
  mend?(): Promise<unknown>;
}

/** Where renders go that the database knows nothing of: they may be somebody's work. */
const LOST = "lost-and-found";

const namesIn = (folder: string): Promise<string[]> => readdir(folder).catch(() => []);
const liesHere = ({ folder }: Footage) => !liesElsewhere(folder);
/** Demo footage is computed again by the server where it is missing. */
const isDemo = ({ id }: Footage) => id.startsWith("demo-");

async function footageFaults(data: string, db: Database): Promise<Fault[]> {
  const faults: Fault[] = [];
  const all = await listFootage(db);
  const known = new Set<string>();
  for (const footage of all) {
    const pattern = parseStored(footagePattern(footage));
    const files = [...new Set([...framesIn(footage.frames)].map((frame) => fileOf(pattern, frame)))];
    if (liesHere(footage)) for (const file of files) known.add(file);
    if (!(await shotsOf(db, footage.id)).length)
      faults.push({
        what: `footage ${footage.id} (${footage.pattern}) is used by no shot`,
        mends: "removes it",
        mend: () => removeFootageNamed(db, footage.id),
      });
    const missing = isDemo(footage) ? [] : files.filter((file) => !existsSync(file));
    if (missing.length)
      faults.push({
        what: `footage ${footage.id}: ${missing.length} of ${files.length} files are not there, first ${missing[0]}`,
        mends: null,
      });
  }
  const root = join(data, "footage");
  for (const entry of await readdir(root, { recursive: true, withFileTypes: true }).catch(() => [])) {
    const path = join(entry.parentPath ?? entry.path, entry.name);
    if (!entry.isFile() || known.has(path) || path.includes(UNFINISHED)) continue;
    faults.push({ what: `${path} belongs to no footage`, mends: "removes it", mend: () => rm(path, { force: true }) });
  }
  return faults;
}

async function framesFaults(db: Database, render: ListedRender): Promise<Fault[]> {
  const folder = folderOf(render);
  const again = {
    mends: "queues it again",
    mend: () => reopen(db, render.id, ["done"]),
  };
  if (!existsSync(folder)) return [{ what: `render ${render.id}: its folder ${folder} is not there`, ...again }];
  const pattern = parseStored(join(folder, fileNameOf(render)));
  const entries = await filesMade(db, render);
  const files = [...new Set([...framesIn(render.frames)].map((frame) => fileOf(pattern, frame)))];
  const bad = files.filter((file) => {
    const found = statSync(file, { throwIfNoEntry: false });
    const entry = entries.get(file.slice(folder.length + 1));
    return !found || (entry !== undefined && entry.bytes !== found.size);
  });
  return bad.length
    ? [
        {
          what: `render ${render.id}: ${bad.length} of ${files.length} files are not there or not whole, first ${bad[0]}`,
          ...again,
        },
      ]
    : [];
}

/** Moves a folder whose row is gone to where nothing is lost. */
async function moveAway(data: string, path: string, to: string): Promise<void> {
  await mkdir(join(data, LOST), { recursive: true });
  await rename(join(data, path), to);
}

async function stillFaults(data: string, db: Database): Promise<Fault[]> {
  const all = await listStills(db);
  const missing = all.filter((still) => !existsSync(pictureOfStill(still)));
  const known = new Set(all.map(({ id }) => basename(folderOfStill(id))));
  const strays = (await namesIn(join(data, "stills"))).filter((name) => !known.has(name) && !name.endsWith(UNFINISHED));
  return [
    ...missing.map((still) => ({
      what: `still ${still.id}: its picture ${pictureOfStill(still)} is not there`,
      mends: "removes it",
      mend: () => removeStill(db, still.id),
    })),
    ...strays.map((name) => {
      // Stills are called by their numbers alone.
      const to = join(data, LOST, `still-${name}`);
      return {
        what: `stills/${name} belongs to no still`,
        mends: `moves it to ${to}`,
        mend: () => moveAway(data, join("stills", name), to),
      };
    }),
  ];
}

async function renderFaults(data: string, db: Database): Promise<Fault[]> {
  const all = await allRenders(db);
  const faults = (
    await Promise.all(all.filter(({ state }) => state === "done").map((render) => framesFaults(db, render)))
  ).flat();
  const known = new Set(all.map(({ folder }) => folder));
  for (const name of await namesIn(join(data, "renders"))) {
    if (known.has(name) || name.endsWith(UNFINISHED)) continue;
    const to = join(data, LOST, name);
    const mend = () => moveAway(data, join("renders", name), to);
    faults.push({ what: `renders/${name} belongs to no render`, mends: `moves it to ${to}`, mend });
  }
  return faults;
}

async function unfinishedIn(folder: string): Promise<string[]> {
  const entries = await readdir(folder, { recursive: true, withFileTypes: true }).catch(() => []);
  return entries
    .filter(({ name }) => name.endsWith(UNFINISHED))
    .map((entry) => join(entry.parentPath ?? entry.path, entry.name));
}

async function leftFaults(data: string, parts: readonly string[]): Promise<Fault[]> {
  const faults: Fault[] = [];
  for (const part of parts)
    for (const path of await unfinishedIn(join(data, part)))
      faults.push({
        what: `${path} was never finished`,
        mends: "removes it",
        mend: () => sweepUnfinished(join(data, part)),
      });
  const unused = await unusedContent();
  const bytes = unused.reduce((sum, entry) => sum + entry.bytes, 0);
  if (unused.length)
    faults.push({
      what: `${unused.length} files of content (${Math.ceil(bytes / 2 ** 20)} MiB) are used by nothing`,
      mends: "removes them",
      mend: sweepContent,
    });
  return faults;
}

async function contentFaults(data: string): Promise<Fault[]> {
  const faults: Fault[] = [];
  for (const shelf of await namesIn(join(data, "content")))
    for (const hash of await namesIn(join(data, "content", shelf))) {
      const path = join(data, "content", shelf, hash);
      if ((await hashOf(path)) !== hash)
        faults.push({ what: `${path} does not hold what its name says; the disk changed it`, mends: null });
    }
  return faults;
}

/** Compares the database with the folders. `deep`: every byte of content too. Nothing is changed. */
export async function examine(data: string, db: Database, deep = false): Promise<Fault[]> {
  return [
    ...(await footageFaults(data, db)),
    ...(await renderFaults(data, db)),
    ...(await stillFaults(data, db)),
    ...(await leftFaults(data, ["renders", "footage", "stills", "content"])),
    ...(deep ? await contentFaults(data) : []),
  ];
}
