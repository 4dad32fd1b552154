import { spawnSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { loadPlace } from "../source";
import { hasFfmpeg } from "./ffmpeg";
import { closeMovies, openMovie } from "./movie";

const FRAMES = 72;
const folder = mkdtempSync(join(tmpdir(), "halo-seek-"));

/** Containers and codings as they come from cameras and finishing: with frames between key frames, and without. */
const MOVIES: [name: string, coding: string[]][] = [
  ["a.mov", ["prores_ks", "-profile:v", "3"]],
  ["b.mp4", ["libx264", "-bf", "2", "-g", "30", "-pix_fmt", "yuv420p"]],
  ["c.mkv", ["libx264", "-bf", "2", "-g", "30", "-pix_fmt", "yuv420p"]],
  ["d.mxf", ["dnxhd", "-profile:v", "dnxhr_hqx", "-pix_fmt", "yuv422p10le"]],
  ["e.ts", ["libx264", "-bf", "2", "-g", "30", "-pix_fmt", "yuv420p"]],
  ["f.avi", ["mjpeg", "-pix_fmt", "yuvj420p"]],
];

function made(name: string, coding: string[]): string {
  const path = join(folder, name);
  const pictures = `testsrc2=size=256x144:rate=24000/1001,trim=end_frame=${FRAMES}`;
  const marks = ["-timecode", "01:00:59:00", "-metadata:s:v", "reel_name=A001"];
  const run = spawnSync("ffmpeg", ["-v", "error", "-f", "lavfi", "-i", pictures, ...marks, "-c:v", ...coding, path]);
  expect(run.stderr.toString()).toBe("");
  return path;
}

test.skipIf(!hasFfmpeg()).each(MOVIES)(
  "%s: a frame is the same, whether it is sought or come to",
  async (name, coding) => {
    const path = made(name, coding);
    const inOrder = openMovie(path);
    const frames: Buffer[] = [];
    for (let number = 1; number <= FRAMES; number++) frames.push(await inOrder.frame(number));
    expect(inOrder.count).toBe(FRAMES);
    expect(new Set(frames.map((frame) => frame.toString("latin1"))).size).toBe(FRAMES);
    inOrder.close();
    for (const number of [72, 31, 30, 60, 2, 45]) {
      const sought = openMovie(path);
      const isSame = (await sought.frame(number)).equals(frames[number - 1]!);
      sought.close();
      expect([number, isSame]).toEqual([number, true]);
    }
  },
  60_000,
);

test.skipIf(!hasFfmpeg())("a frame's time code is counted from the movie's, and its reel goes with it", async () => {
  const path = made("marked.mov", ["prores_ks", "-profile:v", "3"]);
  const { info } = await loadPlace({ path, choice: { frame: 25 }, black: false });
  expect(info).toMatchObject({
    timeCode: "01:01:00:01",
    reel: "A001",
    coding: "ProRes HQ",
    frames: FRAMES,
    depth: "10",
  });
  closeMovies();
});
