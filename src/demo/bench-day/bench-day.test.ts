import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join, resolve } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { decodeImage } from "../../core/image/decode";
import type { Frame } from "../../core/image/image";
import { chartOf } from "../../core/measure/chart";
import { filesOf, profileFrom } from "../../core/measure/manifest";
import type { FilterProfile, LensProfile } from "../../core/profile/profiles";
import { readExr } from "../../formats/exr/read";
import { writeExr } from "../../formats/exr/write";
import { DEMO_SIZE, frameFile, makeShots, openingFrame, SHOTS } from "../footage";
import { type Compared, filterAgainst, lensAgainst } from "./against";
import { type BenchDay, benchDayGlass, filterFrames, lensFrames } from "./bench-day";

/**
 * Lenses and filters measured from the frames of Bench day alone, held against the glass they were shot through. `npm run
 * accuracy` does it for more of them, over all their stops, and writes the table to docs/accuracy.md.
 */
const WRITES = Boolean(process.env.HALO_WRITE_ACCURACY);
const LENSES = WRITES
  ? ["orrin-vale-25", "orrin-vale-50", "hask-scope-40", "merrow-85", "plainglass-50"]
  : ["hask-scope-40"];
/** Without writing, a journey measures a filter. */
const FILTERS = WRITES ? ["milkglass", "hearth", "sootglass"] : [];
/** Whether a file is read: of the edges and even fields one stop tells enough. */
const isRead = (file: string) => WRITES || !/^(edges|flat)-T(?!2\.3)/.test(file);

const SCENE = SHOTS.find(({ id }) => id === "TL-030")!;
const PITCH = SCENE.sensor.width / DEMO_SIZE.width;
const FOCAL_LENGTH = 50;
const sections: string[] = [];
let scene: Frame;

const glass = (id: string) => benchDayGlass().find((one) => one.id === id)!;
const lightOf = async (name: string, bytes: Buffer) =>
  decodeImage(await readExr(name, bytes), encodingByName("linear-ap1")).frame;

beforeAll(async () => {
  if (!FILTERS.length) return;
  const folder = mkdtempSync(join(tmpdir(), "halo-bench-day-"));
  await makeShots([SCENE], {
    folder,
    size: DEMO_SIZE,
    program: resolve("dist/demo-worker.mjs"),
    platesIn: "dist/demo-ahead",
    threads: 2,
    onlyOpening: true,
    progress: () => {},
  });
  const path = frameFile(folder, SCENE, openingFrame(SCENE));
  scene = await lightOf(path, readFileSync(path));
  rmSync(folder, { recursive: true, force: true });
}, 300_000);

/** The profile that frames come to, read back as files hold them. */
async function measured({ manifest, frames }: BenchDay) {
  const kept = { ...manifest, frames: manifest.frames.filter((frame) => filesOf(frame).every(isRead)) };
  const light = new Map<string, Promise<Frame>>();
  const frameOf = (file: string) => {
    const found =
      light.get(file) ??
      writeExr(frames.find((one) => one.file === file)!.light(), { depth: "half" }).then((bytes) =>
        lightOf(file, bytes),
      );
    light.set(file, found);
    return found;
  };
  return profileFrom(kept, (frame) =>
    Promise.all(filesOf(frame).map(async (file) => chartOf(await frameOf(file), manifest.sensor))),
  );
}

const text = (value: number) => value.toPrecision(2);
function tell(name: string, note: string, rows: readonly Compared[]): void {
  const lines = rows.map(
    ({ quantity, unit, worst, bar, sure }) =>
      `| ${quantity} | ${text(worst)} ${unit} | ${bar} ${unit} | ${sure === null ? "" : `${(100 * sure).toFixed(0)} %`} | ${worst <= bar ? "met" : "missed"} |`,
  );
  sections.push(
    `## ${name}, from frames\n\n${note}\n\n| quantity | furthest off | bar | twice the uncertainty holds |  |\n| --- | --- | --- | --- | --- |\n${lines.join("\n")}\n`,
  );
}

/** Bars are met, and twice what is said of the uncertainty holds the truth in nine places of ten. */
function expectMet(rows: readonly Compared[]): void {
  expect(rows.filter(({ worst, bar }) => !(worst <= bar))).toEqual([]);
  expect(rows.filter(({ sure }) => sure !== null && sure < 0.9)).toEqual([]);
}

describe("from frames alone", () => {
  test.each(LENSES)(
    "the lens %s",
    async (id) => {
      const truth = glass(id) as LensProfile;
      const rows = lensAgainst((await measured(lensFrames(truth))) as LensProfile, truth);
      tell(truth.name, `\`${id}\`, ${truth.focalLengths![0]} mm, three stops.`, rows);
      expectMet(rows);
    },
    300_000,
  );

  test.each(FILTERS)(
    "the filter %s",
    async (id) => {
      const truth = glass(id) as FilterProfile;
      const found = (await measured(filterFrames(truth, scene, SCENE.sensor))) as FilterProfile;
      const place = { pitch: PITCH, height: scene.height, focalLength: FOCAL_LENGTH };
      const rows = filterAgainst(found, truth, place);
      tell(
        truth.name,
        `\`${id}\`, grades ${found.grades.map(({ grade }) => grade).join(" and ")}, before TL-030.`,
        rows,
      );
      expectMet(rows);
    },
    300_000,
  );
});

const PART = "# Measured from frames";
afterAll(() => {
  if (!WRITES) return;
  const path = "docs/accuracy.md";
  const head = `${PART}\n\nThe glass measured by \`bin/halo profile --from\` out of the frames of Bench day (\`bin/halo demo-footage --shots bench-day\`): slanted edges, a grid, an even field shot twice, and a scene without and with a filter, computed point by point by the definition of the profiles, with noise of 0.5 % and 12-bit steps. Contrast to 0.6 of Nyquist and 90 % of the field; spread from 2 px to a quarter of the frame's height.\n`;
  const before = readFileSync(path, "utf8").split(PART)[0]!;
  writeFileSync(path, [before.trimEnd(), "", head, ...sections].join("\n"));
});
