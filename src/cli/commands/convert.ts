import { Command } from "commander";
import { lookSchema } from "../../core/look/look";
import { cabinetOf } from "../../core/profile/profiles";
import { UsageError } from "../options";
import { type FrameOptions, withFrameOptions } from "../frames";
import { runFrames } from "../perform";

/** A look with nothing in it. */
const nothing = lookSchema.parse({
  format: "pale-halo-look",
  version: 1,
  name: "Nothing",
  camera: { sensor: { width: 36, height: 24 } },
  lens: { focalLength: 50, stop: 4 },
  elements: [],
  view: { kind: "plain" },
});

/** Formats and encodings only. Without --out-encoding code values are handed on as they are. */
export const convertCommand = (): Command =>
  withFrameOptions(new Command("convert").description("Changes format and encoding, and nothing else")).action(
    (options: FrameOptions) => {
      if (!options.out) throw new UsageError("--out: say where frames go");
      return runFrames(options, {
        ...{ look: nothing, cabinet: cabinetOf([]), scale: 1, keepEncoding: true, files: [] },
        ...{ overscan: Infinity, layers: "keep" },
      });
    },
  );
