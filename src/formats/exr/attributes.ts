/** Attributes of an OpenEXR header as they stand in it, to go on from one file to the next and to be read by people. */
import { type HeaderAttribute, RECIPE_FIELD, RECIPE_TERMS_FIELD } from "../format";
import { timeCodeText } from "./header";

/** How a file's pixels are laid out: true of that file alone, and never carried to another. */
const LAYOUT = new Set([
  "channels",
  "chunkCount",
  "compression",
  "dataWindow",
  "displayWindow",
  "lineOrder",
  "maxSamplesPerPixel",
  "name",
  "pixelAspectRatio",
  "tiles",
  "type",
  "version",
  "view",
  "multiView",
]);
/** Made of the pixels or their colour: stale once those are others. */
const OF_PIXELS = new Set([
  "acesImageContainerFlag",
  "chromaticities",
  "preview",
  "deepImageState",
  RECIPE_FIELD,
  RECIPE_TERMS_FIELD,
]);

export const isLayout = (name: string) => LAYOUT.has(name);
/** Whether an attribute goes on with the picture. */
export const isCarried = (name: string) => !LAYOUT.has(name) && !OF_PIXELS.has(name);

/** The standard's name of the field that holds the reel. */
export const REEL_FIELD = "reelName";

/** Longest names: of files that say nothing of long ones, and of all. */
export const [SHORT_NAME, LONG_NAME] = [31, 255];

const list = (count: number, read: (i: number) => number) => Array.from({ length: count }, (_, i) => read(i));
const floats = ({ value }: HeaderAttribute, count: number) => list(count, (i) => value.readFloatLE(4 * i));
const integers = ({ value }: HeaderAttribute, count: number) => list(count, (i) => value.readInt32LE(4 * i));

/** Reels of film name their place by eight numbers (OpenEXR's keycode). */
const KEYCODE = ["film", "type", "prefix", "count", "perforation", "perforationsPerFrame", "perforationsPerCount"];

function strings(value: Buffer): string[] {
  const out: string[] = [];
  for (let at = 0; at + 4 <= value.length;) {
    const length = value.readInt32LE(at);
    if (length < 0 || at + 4 + length > value.length) break;
    out.push(value.toString("utf8", at + 4, at + 4 + length));
    at += 4 + length;
  }
  return out;
}

/** Sizes of the kinds whose values are of one size, bytes, and how they read. */
const KINDS: Record<string, [number, (attribute: HeaderAttribute) => unknown]> = {
  int: [4, (one) => integers(one, 1)[0]],
  float: [4, (one) => floats(one, 1)[0]],
  double: [8, ({ value }) => value.readDoubleLE(0)],
  v2i: [8, (one) => integers(one, 2)],
  v2f: [8, (one) => floats(one, 2)],
  v3i: [12, (one) => integers(one, 3)],
  v3f: [12, (one) => floats(one, 3)],
  box2i: [16, (one) => integers(one, 4)],
  box2f: [16, (one) => floats(one, 4)],
  m33f: [36, (one) => floats(one, 9)],
  m44f: [64, (one) => floats(one, 16)],
  chromaticities: [32, (one) => floats(one, 8)],
  rational: [8, ({ value }) => `${value.readInt32LE(0)}/${value.readUInt32LE(4)}`],
  timecode: [
    8,
    ({ value }) => ({
      time: timeCodeText(value.readUInt32LE(0)),
      bits: value.readUInt32LE(0),
      user: value.readUInt32LE(4),
    }),
  ],
  keycode: [28, (one) => Object.fromEntries(integers(one, 7).map((value, i) => [KEYCODE[i], value]))],
};

/** An attribute's value as data, for people and programs; of a kind that is not known, how long it is. */
export function attributeValue(attribute: HeaderAttribute): unknown {
  const { type, value } = attribute;
  if (type === "string") return value.toString("utf8");
  if (type === "stringvector") return strings(value);
  const kind = KINDS[type];
  return kind && value.length === kind[0] ? kind[1](attribute) : `${value.length} bytes`;
}
