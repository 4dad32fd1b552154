import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { encodingByName } from "../../core/colour/encodings";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import type { Track } from "../../core/track/track";
import { fixture } from "../../formats/fixtures/pattern";
import { readExr } from "../../formats/exr/read";
import { lookOf } from "../../testing/laboratory";
import { startEngine } from "../engine/engine";
import { parsePattern } from "../footage/sequence";
import { openSource } from "../footage/source";
import { writeBesides } from "./besides";
import type { RenderJob } from "./job";

const { engine, close } = startEngine(1);
afterAll(close);

function jobFor(elements: Parameters<typeof lookOf>[0]): RenderJob {
  const folder = mkdtempSync(join(tmpdir(), "halo-besides-"));
  writeFileSync(join(folder, "in.0001.exr"), fixture("half-zip.exr"));
  const source = openSource(join(folder, "in.%04d.exr"));
  const bare = lookOf(elements);
  const look = { ...bare, lens: { ...bare.lens, profile: "orrin-vale-25", focalLength: 25, stop: 2 } };
  return {
    ...{ look, cabinet: cabinetOf(demoProfiles()), source, frames: [[1, 1]], shot: [[1, 1]] },
    ...{ output: parsePattern(join(mkdtempSync(join(tmpdir(), "halo-out-")), "TL-010_v1.%04d.exr")) },
    ...{ inEncoding: encodingByName("linear-ap1"), outEncoding: null, depth: "half", scale: 1, resume: false },
  };
}

/** What a map holds, RGBA. */
async function places(job: RenderJob, name: string): Promise<Float32Array> {
  const map = await readExr(name, readFileSync(join(job.output.folder, name)));
  return map.pixels.data as Float32Array;
}

test("a table, maps and the sheet stand beside the frames, under their name", async () => {
  const job = jobFor([{ kind: "distortion" }, { kind: "trim", params: { exposure: 1 } }]);
  await writeBesides(engine, job, ["table", "maps", "sheet"]);
  const { folder } = job.output;
  expect(readdirSync(folder).sort()).toEqual([
    "TL-010_v1.cube",
    "TL-010_v1.distortion-off.exr",
    "TL-010_v1.distortion.exr",
    "TL-010_v1.html",
  ]);
  const map = await readExr("map.exr", readFileSync(join(folder, "TL-010_v1.distortion.exr")));
  expect([map.width, map.height]).toEqual([48, 40]);
  // Between the middle and a corner light is fetched from elsewhere: by more than the map's own step.
  const at = 4 * (4 * 48 + 4);
  const [x, y] = [map.pixels.data[at]!, map.pixels.data[at + 1]!];
  expect(Math.abs(x - 4.5 / 48) + Math.abs(y - (1 - 4.5 / 40))).toBeGreaterThan(0.001);
  expect(readFileSync(join(folder, "TL-010_v1.cube"), "utf8")).toMatch(/LUT_3D_SIZE 33/);
  expect(readFileSync(join(folder, "TL-010_v1.html"), "utf8")).toMatch(/Orrin Vale 25/);
});

test("of a look without distortion there are no maps, and what is not wanted is not written", async () => {
  const job = jobFor([{ kind: "trim" }]);
  await writeBesides(engine, job, ["maps"]);
  expect(readdirSync(job.output.folder)).toEqual([]);
  await writeBesides(engine, job, []);
  expect(readdirSync(job.output.folder)).toEqual([]);
});

test("maps are of what the look does: half of a distortion is half of it, and one that changes has a pair a frame", async () => {
  const [whole, half] = [1, 0.5].map((strength) => jobFor([{ kind: "distortion", strength, params: { fit: "keep" } }]));
  for (const job of [whole!, half!]) await writeBesides(engine, job, ["maps"]);
  const at = 4 * (4 * 48 + 4);
  const movedBy = async (job: RenderJob) => (await places(job, "TL-010_v1.distortion.exr"))[at]! - 4.5 / 48;
  expect((await movedBy(half!)) / (await movedBy(whole!))).toBeCloseTo(0.5, 1);

  const keys = [0, 1].map((value, i) => ({ frame: i + 1, value, ease: "linear" }));
  const timed = jobFor([{ kind: "distortion", params: { fit: "keep" }, when: { strength: { keys } } }]);
  await writeBesides(engine, { ...timed, frames: [[1, 2]], shot: [[1, 2]], gaps: "hold" }, ["maps"]);
  expect(readdirSync(timed.output.folder).sort()).toEqual(
    ["-off.0001", "-off.0002", ".0001", ".0002"].map((what) => `TL-010_v1.distortion${what}.exr`),
  );
  const [still, moved] = ["0001", "0002"].map((number) => places(timed, `TL-010_v1.distortion.${number}.exr`));
  expect((await still!)[at]).toBeCloseTo(4.5 / 48, 6);
  expect((await moved!)[at]).toBeCloseTo((await places(whole!, "TL-010_v1.distortion.exr"))[at]!, 6);
});

test("a picture that is held steady is moved otherwise on every frame, and so are its maps", async () => {
  const track: Track = {
    ...{ id: "t", name: "Lamp", model: "position", reference: 1, first: 1 },
    region: { x: 0, y: 0, width: 20, height: 20 },
    ...{ x: [0, 12.5], y: [0, 0], scale: [1, 1], rotation: [0, 0], confidence: [1, 1] },
  };
  const still = jobFor([{ kind: "steady", params: { track: "t", fit: "keep" } }]);
  const job = { ...still, look: { ...still.look, tracks: [track] } };
  await writeBesides(engine, { ...job, frames: [[1, 2]], shot: [[1, 2]], gaps: "hold" }, ["maps"]);
  // An eighth of 48 px: what has gone to the right is fetched from there.
  const middle = 4 * (20 * 48 + 20);
  const across = ["0001", "0002"].map(
    async (frame) => (await places(job, `TL-010_v1.distortion.${frame}.exr`))[middle]! * 48,
  );
  expect((await across[0]!) - 20.5).toBeCloseTo(0, 2);
  expect((await across[1]!) - 20.5).toBeCloseTo(6, 1);
});
