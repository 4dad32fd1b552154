import { dirname, resolve } from "node:path";
import { Command } from "commander";
import { lensFrom, type Manifest, manifestSchema, filesOf } from "../../core/measure/manifest";
import { MeasureError } from "../../core/measure/plane";
import { lensSchema } from "../../core/profile/lens";
import { writeWhole } from "../../server/storage/files";
import { parse } from "../files";
import { UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";
import { readChart } from "./measure/chart";

interface Options {
  from: string;
  out: string;
  json?: boolean;
}

/** Charts of a manifest's frames; files lie beside the manifest unless their paths are whole. */
const chartsIn = (manifest: Manifest, folder: string) => async (frame: Manifest["frames"][number]) =>
  Promise.all(
    filesOf(frame).map((file) =>
      readChart({
        in: resolve(folder, file),
        sensor: manifest.sensor,
        region: "region" in frame ? frame.region : undefined,
        inEncoding: manifest.encoding,
      }),
    ),
  );

async function run({ from, out, json }: Options): Promise<void> {
  const manifest: Manifest = parse(from, manifestSchema);
  const folder = dirname(resolve(from));
  const read = manifest.frames
    .flatMap(filesOf)
    .map((file) => ({ path: resolve(folder, file), what: "a measured frame" }));
  refuseOverwriting("--out", [out], [{ path: from, what: "the manifest" }, ...read]);
  prepareOutput("--out", dirname(out));
  try {
    const lens = await lensFrom(manifest, chartsIn(manifest, folder));
    const checked = lensSchema.safeParse(JSON.parse(JSON.stringify(lens)));
    if (!checked.success) {
      const { path, message } = checked.error.issues[0]!;
      throw new MeasureError(`what was measured is no lens: ${path.join(".")} ${message}`);
    }
    await writeWhole(out, Buffer.from(`${JSON.stringify(checked.data, null, 1)}\n`));
    const tables = (["mtf", "illumination", "distortion", "lateralColour"] as const).map(
      (name) => [name, checked.data[name]?.length ?? 0] as const,
    );
    if (json) return console.log(JSON.stringify({ out, id: lens.id, tables: Object.fromEntries(tables) }));
    console.log(`${out}: ${lens.name}`);
    for (const [name, count] of tables) if (count) console.log(`${name}: ${count}`);
  } catch (error) {
    throw error instanceof MeasureError ? new UsageError(`${from}: ${error.message}`) : error;
  }
}

export const profileCommand = (): Command =>
  new Command("profile")
    .description("Makes a lens profile of measured frames")
    .requiredOption("--from <file>", "the manifest: what was shot, at which focal length and stop, JSON")
    .requiredOption("--out <file>", "the profile, JSON")
    .option("--json", "JSON")
    .action(run);
