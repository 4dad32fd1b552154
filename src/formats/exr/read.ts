import { REEL_FIELD } from "./attributes";
import {
  canvasOf,
  inSteps,
  isSame,
  NO_OVERSCAN,
  type Overscan,
  overscanOf,
  shownOf,
  wholeOverscan,
  withOverscan,
} from "../../core/image/overscan";
import { FileError } from "../error";
import type { Box, Choice, Decoded, Layer } from "../format";
import { NOTE_FIELDS, notesIn } from "../notes";
import { type ExrFile, type PartHeader, readHeaders } from "./header";
import { depthChannelOf, layersBeside, layersOf, slotsOf, type ChannelSlot } from "./layers";
import { fill, fillsAll, type Planes } from "./planes";

/** The part to read: the one named, or the first that holds a picture. */
function choosePart(file: string, { parts }: ExrFile, named?: string): number {
  const names = parts.map(({ name }) => name).join(", ");
  if (named !== undefined) {
    const found = parts.findIndex(({ name }) => name === named);
    if (found < 0) throw new FileError(file, `has no part “${named}”; it has ${names}`);
    return found;
  }
  const found = parts.findIndex((part) => !part.deep && layersOf(part).length > 0);
  if (found < 0) {
    if (parts.some(({ deep }) => deep)) throw new FileError(file, "holds deep data; flat images are read");
    throw new FileError(
      file,
      `has no R, G, B or Y channel (it has ${parts
        .flatMap(({ channels }) => channels.map(({ name }) => name))
        .slice(0, 12)
        .join(", ")})`,
    );
  }
  return found;
}

function chooseLayer(file: string, part: PartHeader, named?: string): string {
  const layers = layersOf(part);
  if (named === undefined) return layers[0]!;
  if (!layers.includes(named))
    throw new FileError(
      file,
      `has no layer “${named}”; it has ${layers.map((layer) => layer || "(the bare one)").join(", ")}`,
    );
  return named;
}

/** Refuses a part whose pixels all lie outside the picture that is shown: it would read as black. */
function refuseApart(file: string, { dataWindow: data, displayWindow: shown }: PartHeader): void {
  const isApart =
    data.right < shown.left || data.left > shown.right || data.bottom < shown.top || data.top > shown.bottom;
  const text = ({ left, top, right, bottom }: Box) => `${left}, ${top} to ${right}, ${bottom}`;
  if (isApart)
    throw new FileError(
      file,
      `its data window (${text(data)}) lies wholly outside its display window (${text(shown)}); there is nothing to see`,
    );
}

/**
 * Reads a flat OpenEXR image, scan lines or tiles (their first level), into its display window, and where it is chosen
 * what lies around it. Pixels outside the data window are 0; colour without alpha is opaque. A depth plane may stand in
 * the part or, by name, in another.
 */
export async function readExr(file: string, bytes: Buffer, choice: Choice = {}): Promise<Decoded> {
  const exr = readHeaders(file, bytes);
  const index = choosePart(file, exr, choice.part);
  const part = exr.parts[index]!;
  if (part.deep) throw new FileError(file, "holds deep data; flat images are read");
  const layer = chooseLayer(file, part, choice.layer);
  const { displayWindow } = part;
  refuseApart(file, part);
  const shown = {
    width: displayWindow.right - displayWindow.left + 1,
    height: displayWindow.bottom - displayWindow.top + 1,
  };
  const isAll = choice.overscan === "all";
  const found = choice.overscan && (isAll ? wholeOverscan : overscanOf)(part.dataWindow, displayWindow);
  const has = found || NO_OVERSCAN;
  const { width, height } = canvasOf(shown, has);
  const corner = { left: displayWindow.left - has.left, top: displayWindow.top - has.top };
  const depthChannel = findDepth(file, exr, index, choice.depthChannel);
  const depth = choice.withoutDepth ? null : depthChannel;
  const slots = slotsOf(part, layer, depth?.part === index ? depth.name : undefined);
  const others = choice.layers ? exr.parts.filter((other) => isCarriedPart(exr, other, part)) : [];
  const beside = choice.layers ? besideIn(file, [[part, slots], ...others.map(allOf)], width * height) : [];
  const layers = beside.filter((layer) => layer.part === undefined);
  const isOpaque = !slots.includes(3);
  const samples = width * height * 4;
  const isFilled = isOpaque && fillsAll(part, { width, height, ...corner });
  const data = (isFilled && choice.memory?.(samples)) || new Float32Array(samples);
  // What is covered by lines is opaque by them.
  if (isOpaque && !isFilled) for (let i = 3; i < samples; i += 4) data[i] = 1;
  const planes: Planes = { width, height, ...corner, data, isFinite: true };
  if (depth) planes.z = new Float32Array(width * height);
  const all = slots.map((slot, i) => slot ?? layers.find(({ name }) => name === part.channels[i]!.name) ?? null);
  await fill(file, bytes, exr, index, all, planes);
  if (depth && depth.part !== index)
    await fill(
      file,
      bytes,
      exr,
      depth.part,
      exr.parts[depth.part]!.channels.map(({ name }): ChannelSlot => (name === depth.name ? "depth" : null)),
      planes,
    );
  for (const other of others) {
    const own = beside.filter((layer) => layer.part === other.name);
    await fill(file, bytes, exr, exr.parts.indexOf(other), own, planes);
  }
  const colour = part.channels.filter((_, i) => slots[i] !== null && slots[i] !== "depth");
  const sampleDepth = colour.some(({ type }) => type !== "half") ? "float" : "half";
  const { channels, compression, dataWindow, tile, chromaticities, text } = part;
  const { framesPerSecond, timeCode, lens, pixelAspect, attributes } = part;
  const parts =
    exr.parts.length > 1
      ? exr.parts.map(({ name, channels: own, attributes: fields }) => ({
          name,
          channels: own.map((channel) => channel.name),
          attributes: fields,
        }))
      : undefined;
  const overscan = isAll ? has : inSteps(has);
  const { data: brought, ...size } = broughtTo(planes, beside, has, overscan);
  return {
    ...size,
    pixels: { depth: sampleDepth, data: brought },
    isFinite: planes.isFinite,
    ...(slots.includes(3) ? { alpha: "associated" as const } : {}),
    ...(found ? { overscan } : {}),
    info: {
      ...shown,
      depth: sampleDepth,
      channels: channels.map(({ name }) => name),
      depthChannel: depthChannel?.name,
      compression,
      dataWindow,
      displayWindow,
      tile,
      parts,
      chosen: { part: part.name, layer },
      framesPerSecond,
      timeCode,
      reel: text[REEL_FIELD],
      lens,
      pixelAspect,
      attributes,
      tags: { chromaticities },
      text,
      notes: notesIn(text, NOTE_FIELDS.OpenEXR),
    },
  };
}

/** A picture's planes with other overscan than they have. */
function broughtTo(
  { width, height, data, z }: Planes,
  layers: Layer[],
  has: Overscan,
  wanted: Overscan,
): Pick<Decoded, "width" | "height" | "z" | "layers"> & { data: Float32Array } {
  const bring = <T extends Float32Array | Uint32Array>(samples: T, lanes: number): T =>
    isSame(has, wanted) ? samples : withOverscan(samples, { width, height }, has, wanted, lanes);
  return {
    ...canvasOf(shownOf({ width, height }, has), wanted),
    data: bring(data, RGBA),
    z: z && bring(z, 1),
    ...(layers.length ? { layers: layers.map((layer) => ({ ...layer, data: bring(layer.data, 1) })) } : {}),
  };
}

const RGBA = 4;

/** The depth channel: of the chosen part, or, where it is named, of any part of the same size. */
function findDepth(
  file: string,
  { parts }: ExrFile,
  index: number,
  named?: string,
): { part: number; name: string } | null {
  const own = depthChannelOf(parts[index]!.channels, named);
  if (own && parts[index]!.channels.some(({ name }) => name === own)) return { part: index, name: own };
  if (named === undefined) return null;
  const elsewhere = parts.findIndex(({ channels, deep }) => !deep && channels.some(({ name }) => name === named));
  if (elsewhere < 0)
    throw new FileError(
      file,
      `has no channel “${named}” for depth; it has ${parts
        .flatMap(({ channels }) => channels.map(({ name }) => name))
        .slice(0, 12)
        .join(", ")}`,
    );
  return { part: elsewhere, name: named };
}

/**
 * Whether another part's channels can go on beside a picture: flat and of the same display window, which the standard
 * has all parts of one picture share.
 */
const isCarriedPart = (
  { parts }: ExrFile,
  { name, deep, channels, displayWindow }: PartHeader,
  { name: own, displayWindow: shown }: PartHeader,
): boolean =>
  name !== own &&
  parts.filter((part) => part.name === name).length === 1 &&
  !deep &&
  channels.every(({ subsampled }) => !subsampled) &&
  (["left", "top", "right", "bottom"] as const).every((side) => displayWindow[side] === shown[side]);

const allOf = (part: PartHeader): [PartHeader, ChannelSlot[]] => [part, part.channels.map(() => null)];

/**
 * The layers beside the picture's own channels: the first part's, and all of the others'. Throws FileError where they
 * are too much.
 */
function besideIn(file: string, parts: readonly [PartHeader, ChannelSlot[]][], pixels: number): Layer[] {
  try {
    return layersBeside(parts, pixels);
  } catch (error) {
    throw error instanceof RangeError ? new FileError(file, error.message) : error;
  }
}
