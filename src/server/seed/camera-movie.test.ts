import { mkdtempSync, readdirSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "vitest";
import { normalised } from "../../core/image/image";
import { writeDpx } from "../../formats/dpx/dpx";
import { hasFfmpeg } from "../footage/movies/ffmpeg";
import { closeMovies } from "../footage/movies/movie";
import { loadFrame, openSource } from "../footage/source";
import { CAMERA_MOVIE, makeCameraMovie, movieFile } from "./camera-movie";

const [WIDTH, HEIGHT, FRAMES] = [96, 54, 2];

/** Smooth and saturated: halved chroma holds it, and another matrix would not. */
const picture = (frame: number) =>
  Float32Array.from({ length: 4 * WIDTH * HEIGHT }, (_, i) => {
    const x = ((i >> 2) % WIDTH) / WIDTH;
    return [0.2 + 0.6 * x, 0.3, 0.8 - 0.5 * x + 0.05 * frame, 1][i & 3]!;
  });

test.skipIf(!hasFfmpeg())("the camera's movie holds the frames' own code values, with time code and reel", async () => {
  const folder = mkdtempSync(join(tmpdir(), "halo-camera-"));
  for (let frame = 1; frame <= FRAMES; frame++)
    writeFileSync(
      join(folder, `TL-050.000${frame}.dpx`),
      writeDpx({ width: WIDTH, height: HEIGHT, data: picture(frame) }, { depth: "10" }),
    );
  await makeCameraMovie(folder);
  const source = openSource(movieFile(folder));
  const image = await loadFrame(source, 2);
  closeMovies();
  expect(image.info).toMatchObject({ timeCode: "05:12:30:01", reel: CAMERA_MOVIE.reel, framesPerSecond: 24 });
  const [made, wanted] = [normalised(image.pixels), picture(2)];
  const furthest = wanted.reduce((most, code, i) => Math.max(most, Math.abs(code - made[i]!)), 0);
  expect(furthest).toBeLessThan(0.012);
  expect(readdirSync(folder).filter((name) => name.startsWith("."))).toEqual([]);
});
