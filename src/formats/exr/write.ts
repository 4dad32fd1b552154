import { isOpaque } from "../../core/image/image";
import type { Layer, Picture } from "../format";
import { SHORT_NAME } from "./attributes";
import { type ExrOptions, type Field, fieldsOf, headerOf, integers, stringField } from "./fields";
import { CHUNK_LINES, type Channel } from "./header";
import type { Samples } from "./lines";
import { packAll } from "./packing";

/** OpenEXR's version 2, and the flags of names over 31 characters and of several parts. */
const [MAGIC, VERSION, LONG_NAMES, MULTI_PART] = [20000630, 2, 0x400, 0x1000];

type ChannelSamples = Channel & Samples;

const channelOf = (name: string, type: Channel["type"]): Channel => ({
  name,
  type,
  bytes: type === "half" ? 2 : 4,
  linear: false,
  subsampled: false,
});

const bitsOf = ({ buffer, byteOffset, length }: Float32Array | Uint32Array) =>
  new Uint32Array(buffer, byteOffset, length);

const samplesOf = (name: string, type: Channel["type"], bits: Uint32Array, stride = 1, first = 0): ChannelSamples => ({
  ...channelOf(name, type),
  ...{ bits, stride, first, isHalf: type === "half" },
});

/** Layers that do not bear the name of one of the picture's own channels: the others have no room. */
export const layersToWrite = ({ layers = [], z }: Pick<Picture, "layers" | "z">, hasAlpha: boolean): Layer[] => {
  const own = ["R", "G", "B", ...(hasAlpha ? ["A"] : []), ...(z ? ["Z"] : [])];
  return layers.filter(({ name, part }) => part !== undefined || !own.includes(name));
};

/** A part as it is written: its channels, and the fields of its header. */
interface WrittenPart {
  channels: ChannelSamples[];
  fields: Field[];
}

const byName = (one: { name: string }, other: { name: string }) => (one.name < other.name ? -1 : 1);
const layerSamples = ({ name, type, data }: Layer) => samplesOf(name, type, bitsOf(data));

/** The parts of a file, the picture's first: further ones only where a layer stands in one. */
function partsOf(picture: Picture, options: ExrOptions): WrittenPart[] {
  const { data, z } = picture;
  const { depth, compression = "ZIP", parts = [], chosen } = options;
  const hasAlpha = picture.hasAlpha ?? !isOpaque(data);
  const layers = layersToWrite(picture, hasAlpha);
  // One for all colours: by it they are known to lie in the same plane.
  const colours = bitsOf(data);
  const own: ChannelSamples[] = [
    ...[...(hasAlpha ? ["A"] : []), "B", "G", "R"].map((name) =>
      samplesOf(name, depth, colours, 4, "RGBA".indexOf(name)),
    ),
    ...(z ? [samplesOf("Z", "float", bitsOf(z))] : []),
    ...layers.filter(({ part }) => part === undefined).map(layerSamples),
    // The format stores channels in the order of their names' bytes.
  ].sort(byName);
  const first = { channels: own, fields: fieldsOf(picture, own, options) };
  const others = [...new Set(layers.flatMap(({ part }) => part ?? []))];
  if (!others.length) return [first];
  const count = Math.ceil(picture.height / CHUNK_LINES[compression]);
  const fieldsOfPart = (name: string, fields: Field[]): Field[] => [
    stringField("name", name),
    stringField("type", "scanlineimage"),
    ...(parts.find((part) => part.name === name)?.attributes.filter((field) => field.name === "view") ?? []),
    { name: "chunkCount", type: "int", value: integers(count) },
    ...fields,
  ];
  return [
    { ...first, fields: fieldsOfPart(chosen?.part ?? "picture", first.fields) },
    ...others.map((name) => {
      const channels = layers
        .filter(({ part }) => part === name)
        .map(layerSamples)
        .sort(byName);
      const { attributes } = parts.find((part) => part.name === name) ?? {};
      // What the standard has all parts share is the picture's; the rest is the part's own.
      const { Software = "" } = options.text ?? {};
      const text: Record<string, string> = Software ? { Software } : {};
      const about = { attributes, text, lens: undefined, reel: undefined, notes: {} };
      const fields = fieldsOf(picture, channels, { ...options, ...about });
      return { channels, fields: fieldsOfPart(name, fields) };
    }),
  ];
}

/** A part's chunks, each as the bytes of its place and of its lines. */
async function chunksOfPart(
  channels: ChannelSamples[],
  { width, height }: Picture,
  options: ExrOptions,
  part?: number,
): Promise<[Buffer, Buffer][]> {
  const { compression = "ZIP", windows } = options;
  const perChunk = CHUNK_LINES[compression];
  const first = windows?.data.top ?? 0;
  const orders = Array.from({ length: Math.ceil(height / perChunk) }, (_, i) => {
    const top = i * perChunk;
    return { compression, rows: { channels, width, top, end: Math.min(height, top + perChunk) }, channels };
  });
  const bodies = await packAll(orders, width * height);
  return bodies.map((body, i) => [
    integers(...(part === undefined ? [] : [part]), first + i * perChunk, body.length),
    body,
  ]);
}

/**
 * An OpenEXR file of RGB, A where there is alpha, and Z as 32-bit floats where there is a depth plane; of several parts
 * where layers stand in others. Whole, or not at all.
 */
export async function writeExr(picture: Picture, options: ExrOptions): Promise<Buffer> {
  const parts = partsOf(picture, options);
  const isMulti = parts.length > 1;
  const chunks: Buffer[] = [];
  for (const [i, { channels }] of parts.entries())
    chunks.push(...(await chunksOfPart(channels, picture, options, isMulti ? i : undefined)).flat());
  const names = parts.flatMap(({ channels, fields }) => [...channels, ...fields].map(({ name }) => name));
  const hasLong = names.some((name) => name.length > SHORT_NAME);
  const header = Buffer.concat([
    integers(MAGIC, VERSION | (hasLong ? LONG_NAMES : 0) | (isMulti ? MULTI_PART : 0)),
    ...parts.map(({ fields }) => headerOf(fields)),
    // The list of several headers has an end.
    ...(isMulti ? [Buffer.of(0)] : []),
  ]);
  const table = Buffer.alloc(chunks.length * 4);
  let offset = header.length + table.length;
  for (let i = 0; i < chunks.length; i += 2) {
    table.writeBigUInt64LE(BigInt(offset), i * 4);
    offset += chunks[i]!.length + chunks[i + 1]!.length;
  }
  return Buffer.concat([header, table, ...chunks]);
}
