import { basename, dirname, extname, join } from "node:path";
import { Command, InvalidArgumentError } from "commander";
import { decodeImage } from "../../core/image/decode";
import { firstOf, lastOf, MAX_FRAME } from "../../core/frame/ranges";
import { quantise } from "../../core/image/image";
import { missingGlass, platesIn } from "../../core/look/glass";
import { stretchOf } from "../../core/look/camera";
import type { Look } from "../../core/look/look";
import { type Cabinet, cabinetOf } from "../../core/profile/profiles";
import { type Axis, axisSchema, axisTitle, UnknownName, type Wall, wallOf } from "../../core/wall/axis";
import { axisIn } from "../../core/wall/axis-text";
import { tileFileName } from "../../core/wall/file-name";
import { demoProfiles } from "../../demo/glass/profiles";
import { formatOf } from "../../formats/formats";
import { startEngine } from "../../server/engine/engine";
import { guessedEncoding, guessEncoding } from "../../server/footage/guess-encoding";
import { parsePattern } from "../../server/footage/sequence";
import { loadFrame, openSource } from "../../server/footage/source";
import type { RenderJob } from "../../server/render/job";
import { lightOf } from "../../server/render/light";
import { sheetFile, type TilePicture } from "../../server/wall/sheet-file";
import { type Doing, DRY_RUN, putFile } from "../doing";
import { encodingNamed } from "../encodings";
import { readLook, readProfile } from "../files";
import { collect, numberOption, UsageError } from "../options";
import { prepareOutput, refuseOverwriting } from "../places";

interface Options extends Doing {
  look: string;
  in: string;
  frame?: number;
  across?: Axis;
  down?: Axis;
  out: string;
  tiles?: string;
  tileWidth: number;
  profile?: string[];
  inEncoding?: string;
}

const THREADS = 2;
const DEFAULT_TILE = 480;

function axisOption(text: string): Axis {
  try {
    const read = axisSchema.safeParse(axisIn(text));
    if (read.success) return read.data;
    const [issue] = read.error.issues;
    const [, index] = issue!.path;
    throw new RangeError(typeof index === "number" ? `value ${index + 1}: ${issue!.message}` : issue!.message);
  } catch (error) {
    throw new InvalidArgumentError((error as Error).message);
  }
}

/** The looks that axes name, which are files. */
const looksIn = (axes: readonly (Axis | undefined)[]): Map<string, { label: string; look: Look }> =>
  new Map(
    axes
      .flatMap((axis) => (axis?.kind === "look" || axis?.kind === "version" ? axis.values : []))
      .map((path) => {
        const look = readLook(path);
        return [path, { label: look.name || basename(path, extname(path)), look }];
      }),
  );

/** The wall that is asked for; every tile's glass is there. */
function checkedWall(options: Options, look: Look, cabinet: Cabinet, frame: number): Wall {
  const { across, down } = options;
  const glass = { cabinet, looks: looksIn([across, down]), frame };
  for (const [option, axis] of [
    ["--across", across],
    ["--down", down],
  ] as const)
    try {
      wallOf(look, axis ?? null, null, glass);
    } catch (error) {
      throw error instanceof UnknownName ? new UsageError(`${option}: ${error.message}`) : error;
    }
  const wall = wallOf(look, across ?? null, down ?? null, glass);
  for (const tile of wall.tiles) {
    const missing = missingGlass(tile.look, cabinet);
    if (missing.length) throw new UsageError(`${options.look}: ${missing.join("; ")}; give its file with --profile`);
    if (platesIn(tile.look).length)
      throw new UsageError(`${options.look}: takes other footage, which a wall has none of`);
  }
  return wall;
}

async function run(options: Options): Promise<void> {
  const { look: path, in: input, out, tiles, dryRun } = options;
  const kind = extname(out).toLowerCase();
  if (kind !== ".png" && kind !== ".pdf") throw new UsageError(`--out ${out}: ends in .png or .pdf`);
  if (!options.across && !options.down) throw new UsageError("--across: say what changes across, or --down");
  const look = readLook(path);
  const cabinet = cabinetOf([...demoProfiles(), ...(options.profile ?? []).map(readProfile)]);
  const source = openSource(input);
  if (!source.frames.length) throw new UsageError(`--in ${input}: there is no such footage`);
  const frame = options.frame ?? firstOf(source.frames);
  const wall = checkedWall(options, look, cabinet, frame);
  const read = [path, input, ...(options.profile ?? [])].map((file) => ({ path: file, what: "what is read" }));
  refuseOverwriting("--out", [out], read);
  prepareOutput("--out", dirname(out), dryRun);
  if (tiles) prepareOutput("--tiles", tiles, dryRun);
  if (dryRun) return console.error(`${out}: ${wall.tiles.length} tiles would be made; nothing is`);
  const image = await loadFrame(source, frame, { overscan: true });
  const encoding = options.inEncoding
    ? encodingNamed("--in-encoding", options.inEncoding)
    : guessedEncoding(guessEncoding(image));
  const { frame: light } = decodeImage(image, encoding);
  const { width, height } = image.info;
  const shot = { first: firstOf(source.frames), last: lastOf(source.frames) };
  const at = { width, height, frame, shot, hasDepth: image.z !== undefined, frameRate: image.info.framesPerSecond };
  const { engine, close } = startEngine(THREADS);
  const codesOf = async (of: Look, scale: number, key: string) => {
    const job: RenderJob = {
      ...{ look: of, cabinet, source, shot: source.frames, frames: [[frame, frame]], output: parsePattern("tile.png") },
      ...{ inEncoding: encoding, outEncoding: null, depth: "8", scale, resume: false },
    };
    const wanted = { frame: light, output: { kind: "codes", alpha: "unassociated" } } as const;
    const made = await lightOf(engine, job, image, at, wanted, key);
    return { ...made, data: made.data.slice() };
  };
  const scale = Math.min(1, options.tileWidth / width);
  const pictures: TilePicture[] = [];
  for (const [i, tile] of wall.tiles.entries()) {
    const small = await codesOf(tile.look, scale, `tile ${i}`);
    pictures.push({ width: small.width, height: small.height, codes: rgbOf(small.data) });
    if (!tiles) continue;
    const whole = await codesOf(tile.look, 1, `whole ${i}`);
    const name = `${tileFileName(wall, tile)}.png`;
    await putFile(join(tiles, name), await formatOf(name)!.encode(whole, { depth: "16" }), {});
  }
  close();
  const stretch = stretchOf(look.camera, { width, height });
  const words = {
    title: look.name || basename(path, ".json"),
    subtitle: `${basename(input)}, frame ${frame}, ${width} × ${height}`,
    across: wall.across,
    down: wall.down,
    acrossTitle: options.across ? axisTitle(options.across, look) : "",
    downTitle: options.down ? axisTitle(options.down, look) : "",
  };
  await putFile(out, await sheetFile(words, pictures, kind === ".png" ? "png" : "pdf", stretch), {});
  const told = { out, tiles: wall.tiles.length, across: wall.across, down: wall.down, frame };
  console.log(options.json ? JSON.stringify(told) : `${out}: ${told.tiles} tiles`);
}

function rgbOf(data: Float32Array): Uint8Array {
  const rgba = quantise(data, "8");
  const out = new Uint8Array((rgba.length / 4) * 3);
  for (let from = 0, to = 0; from < rgba.length; from += 4) {
    out[to++] = rgba[from]!;
    out[to++] = rgba[from + 1]!;
    out[to++] = rgba[from + 2]!;
  }
  return out;
}

const AXES =
  "lens=a,b, focal=25,50, stop=1.4,2, strength=0,.5,1, filter=milkglass:1/8,1/4, look=x.json,y.json or ELEMENT.PARAMETER=1,2";

export const wallCommand = (): Command =>
  new Command("wall")
    .description("One frame through many pieces of glass, as a page with labels")
    .requiredOption("--look <file>", "the look that everything else of a tile comes from, JSON")
    .requiredOption("--in <pattern>", "a file, or a sequence as name.%04d.exr")
    .option("--frame <n>", "the frame; the first if left out", numberOption(0, MAX_FRAME, true))
    .option("--across <axis>", AXES, axisOption)
    .option("--down <axis>", "the same from row to row", axisOption)
    .requiredOption("--out <file>", "the page, .png or .pdf")
    .option("--tiles <folder>", "every tile at full size too, as PNG of 16 bits")
    .option("--tile-width <px>", "width of a tile on the page", numberOption(32, 4096, true), DEFAULT_TILE)
    .option("--profile <file>", "a lens or filter profile, JSON; may be repeated", collect)
    .option("--in-encoding <name>", "how the footage is encoded: a name, or a .json, .cube or .clf file")
    .option(...DRY_RUN)
    .option("--json", "JSON")
    .action(run);
