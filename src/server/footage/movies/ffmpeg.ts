import { spawnSync } from "node:child_process";

/** Movies are read and written through Debian's ffmpeg where it is on the PATH; nothing else needs it. */
export const [FFMPEG, FFPROBE] = ["ffmpeg", "ffprobe"];

let isThere: boolean | null = null;

/** Whether movies can be read and written here. `HALO_FFMPEG=off` does without, as where there is none. */
export function hasFfmpeg(): boolean {
  if (process.env.HALO_FFMPEG === "off") return false;
  isThere ??= [FFMPEG, FFPROBE].every((program) => spawnSync(program, ["-version"], { stdio: "ignore" }).status === 0);
  return isThere;
}
