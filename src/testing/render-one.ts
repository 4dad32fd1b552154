import { readFileSync } from "node:fs";
import { expect } from "vitest";
import { encodingByName } from "../core/colour/encodings";
import type { Engine } from "../core/engine/engine";
import { cabinetOf } from "../core/profile/profiles";
import { demoProfiles } from "../demo/glass/profiles";
import { readImage } from "../formats/formats";
import type { RenderJob } from "../server/render/job";
import { renderFrames } from "../server/render/render";
import { parsePattern } from "../server/footage/sequence";
import { openSource } from "../server/footage/source";

type Settings = Omit<RenderJob, "look" | "output" | "source">;

/**
 * A job over the demo's cabinet. By default linear light comes in and working light goes out, of floats, in the size of
 * what came in, one frame.
 */
export const jobOf = (
  input: string,
  output: string,
  { look, ...rest }: Pick<RenderJob, "look"> & Partial<Settings>,
): RenderJob => ({
  look,
  cabinet: cabinetOf(demoProfiles()),
  source: openSource(input),
  frames: [[1, 1]],
  shot: [[1, 1]],
  output: parsePattern(output),
  inEncoding: encodingByName("linear-ap1"),
  outEncoding: null,
  depth: "float",
  scale: 1,
  resume: false,
  ...rest,
});

/**
 * Renders one file through a look over the demo's cabinet, as server and command line do, and reads what was written;
 * fails where the render says that it failed.
 */
export async function renderOne(
  engine: Engine,
  { input, output, ...rest }: { input: string; output: string } & Pick<RenderJob, "look"> & Partial<Settings>,
) {
  const failed: string[] = [];
  await renderFrames(engine, jobOf(input, output, rest), {
    done: () => {},
    failed: (_, reason) => void failed.push(reason),
  });
  expect(failed).toEqual([]);
  return readImage(output, readFileSync(output));
}
