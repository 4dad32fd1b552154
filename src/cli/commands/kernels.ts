import { dirname, extname } from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { compile } from "../../core/compile/compile";
import { MAX_FRAME } from "../../core/frame/ranges";
import { floatsOf } from "../../core/image/image";
import { glassOnly, pointFrame, spreadIn } from "../../core/judge/spread-at";
import { missingGlass, platesIn } from "../../core/look/glass";
import { MeasureError } from "../../core/measure/plane";
import { cabinetOf } from "../../core/profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { writeExr } from "../../formats/exr/write";
import { startEngine } from "../../server/engine/engine";
import { readLook, readProfile } from "../files";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { collect, numberOption, sizeOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

interface Options extends Doing {
  look: string;
  size: { width: number; height: number };
  at: [number, number];
  frame: number;
  reach: number;
  out: string;
  table?: string;
  profile?: string[];
}

const THREADS = 2;
const DEFAULT_REACH = 128;
const MAX_REACH = 2048;

function placeOption(value: string): [number, number] {
  const found = /^(\d*\.?\d+),(\d*\.?\d+)$/.exec(value);
  const [x, y] = [Number(found?.[1]), Number(found?.[2])];
  if (!found || x > 1 || y > 1)
    throw new InvalidArgumentError(
      "write a place as X,Y in shares of the frame from its top left, for example 0.9,0.1.",
    );
  return [x, y];
}

async function run({ look: path, size, at, frame, reach, out, table, profile, json, dryRun }: Options): Promise<void> {
  if (extname(out).toLowerCase() !== ".exr") throw new UsageError(`--out ${out}: ends in .exr`);
  const look = glassOnly(readLook(path));
  const cabinet = cabinetOf([...demoProfiles(), ...(profile ?? []).map(readProfile)]);
  const missing = missingGlass(look, cabinet);
  if (missing.length) throw new UsageError(`${path}: ${missing.join("; ")}; give its file with --profile`);
  if (platesIn(look).length) throw new UsageError(`${path}: takes other footage, which is no glass; leave it out`);
  const written = [out, ...(table ? [table] : [])];
  refuseOverwriting("--out", written, [{ path, what: "the look" }]);
  const point = pointFrame(size.width, size.height, at);
  const { engine, close } = startEngine(THREADS);
  const plan = compile(look, cabinet, { ...size, frame, sourceKey: "point" }, { kind: "light" });
  const made = { ...size, data: floatsOf(engine.run(plan, () => point.data)).slice() };
  close();
  try {
    const { picture, rings } = spreadIn(made, reach);
    const pitch = look.camera.sensor.width / size.width;
    const { radii } = rings.green;
    const rows = radii.map((px, i) => [
      px,
      px * pitch,
      rings.red.light[i]!,
      rings.green.light[i]!,
      rings.blue.light[i]!,
    ]);
    for (const file of written) prepareOutput("--out", dirname(file), dryRun);
    await putFile(out, await writeExr({ ...picture, hasAlpha: false }, { depth: "float" }), { dryRun });
    const head = ["distance (px)", "distance (mm)", "red (1/px²)", "green (1/px²)", "blue (1/px²)"];
    if (table) {
      const lines = [head, ...rows.map((row) => row.map((value) => Number(value.toPrecision(6))))];
      await putFile(table, Buffer.from(`${lines.map((line) => line.join(",")).join("\n")}\n`), { dryRun });
    }
    const { x, y } = rings.green;
    const place = { x: Number(x.toFixed(2)), y: Number(y.toFixed(2)) };
    if (json) return console.log(JSON.stringify({ out, table, place, side: picture.width, columns: head, rows }));
    console.log(
      `${out}: ${picture.width} px a side, shares of the point’s light; it lies at ${place.x}, ${place.y} px`,
    );
    if (table) console.log(`${table}: ${rows.length} distances`);
  } catch (error) {
    throw error instanceof MeasureError ? new UsageError(`--at ${at.join(",")}: ${error.message}`) : error;
  }
}

export const kernelsCommand = (): Command =>
  new Command("kernels")
    .description(
      "The spread that a look’s glass makes of a point of light, as a picture and as a table over the distance",
    )
    .requiredOption("--look <file>", "the look, JSON; of it only filters and lens")
    .requiredOption("--size <size>", "of the frame, WIDTHxHEIGHT in px", sizeOption)
    .option("--at <place>", "of the point, X,Y in shares of the frame", placeOption, [0.5, 0.5] as [number, number])
    .option("--frame <n>", "the frame at which what is timed is taken", numberOption(-MAX_FRAME, MAX_FRAME, true), 0)
    .option("--reach <px>", "of the picture on each side of the point", numberOption(4, MAX_REACH, true), DEFAULT_REACH)
    .requiredOption("--out <file>", "the picture, .exr")
    .option("--table <file>", "the table, .csv")
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
