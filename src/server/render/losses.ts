/** What of a frame's file does not go on into what a job writes. */
import type { ShotFrame } from "../../core/frame/context";
import { firstOf, lastOf } from "../../core/frame/ranges";
import { NO_OVERSCAN, shownOf } from "../../core/image/overscan";
import { layersToWrite } from "../../formats/exr/write";
import type { Decoded } from "../../formats/format";
import { lossesOf } from "../../formats/losses";
import { fileOf } from "../footage/sequence";
import type { RenderJob } from "./job";
import { keptLayers } from "./layers";
import { isLinearFile } from "./output";
import { soundLost } from "./sound";
import { keptOverscan } from "./windows";

/** `sample`: a frame as the job reads it. */
export function lossesOfJob(job: RenderJob, sample: Decoded): string[] {
  const frame = firstOf(job.frames);
  const output = fileOf(job.output, frame);
  const sound = soundLost(job.source, job.frames, output);
  if (!isLinearFile(output)) return [...lossesOf(sample.info, { output, overscan: NO_OVERSCAN, layers: [] }), ...sound];
  const at: ShotFrame = {
    ...shownOf(sample, sample.overscan ?? NO_OVERSCAN),
    frame,
    shot: { first: firstOf(job.shot), last: lastOf(job.shot) },
  };
  const layers = layersToWrite({ layers: keptLayers(job, sample, at), z: sample.z }, sample.alpha !== undefined);
  const lost = lossesOf(sample.info, {
    output,
    overscan: keptOverscan(job, sample),
    layers,
  });
  return [...lost, ...sound];
}
