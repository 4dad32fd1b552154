/** Headers as they are written: what a file says of its pixels, of itself, and what is carried from another file. */
import { AP1, type Primaries } from "../../core/colour/primaries";
import { rateFraction } from "../../core/image/rate";
import {
  type Box,
  type HeaderAttribute,
  type Metadata,
  type Picture,
  RECIPE_FIELD,
  RECIPE_TERMS_FIELD,
  type RecordedLens,
} from "../format";
import { NOTE_FIELDS, textOf } from "../notes";
import { isCarried, LONG_NAME, REEL_FIELD } from "./attributes";
import type { WrittenCompression } from "./compression";
import { type Channel, COMPRESSIONS, timeCodeBits, timeCodeText } from "./header";

export interface ExrOptions extends Metadata {
  depth: "half" | "float";
  compression?: WrittenCompression;
  primaries?: Primaries | null;
}

function attribute(name: string, type: string, value: Buffer): Buffer {
  const size = Buffer.alloc(4);
  size.writeInt32LE(value.length);
  return Buffer.concat([Buffer.from(`${name}\0${type}\0`, "latin1"), size, value]);
}

export const integers = (...values: number[]) => {
  const buffer = Buffer.alloc(values.length * 4);
  values.forEach((value, i) => buffer.writeInt32LE(value | 0, i * 4));
  return buffer;
};
const floats = (...values: number[]) => Buffer.from(Float32Array.from(values).buffer);

export type Field = Pick<HeaderAttribute, "name" | "type" | "value">;

const DEFAULT_SCREEN: Field[] = [
  { name: "screenWindowCenter", type: "v2f", value: floats(0, 0) },
  { name: "screenWindowWidth", type: "float", value: floats(1) },
];

/** What a field carried from another file already says: the same number need not be said again under another name. */
const says = (carried: readonly Field[], names: readonly string[], value: number) =>
  carried.some(
    (field) =>
      names.includes(field.name) && field.value.length === 4 && Math.fround(value) === field.value.readFloatLE(0),
  );

/** The lens as fields of the standard, where the fields that are carried do not say it. */
function lensFields({ focalLength, stop, focusDistance, sensor }: RecordedLens, carried: readonly Field[]): Field[] {
  const one = (name: string, value: number | undefined, others: string[] = []): Field[] =>
    value === undefined || says(carried, [name, ...others], value)
      ? []
      : [{ name, type: "float", value: floats(value) }];
  return [
    ...one("effectiveFocalLength", focalLength, ["nominalFocalLength"]),
    ...one("tStop", stop),
    ...one("focus", focusDistance),
    ...(sensor ? [{ name: "sensorOverallDimensions", type: "v2f", value: floats(sensor.width, sensor.height) }] : []),
  ];
}

/** Rate and time code, unless what is carried says the same, with its flags and user bits. */
function timeFields({ framesPerSecond, timeCode }: ExrOptions, carried: readonly Field[]): Field[] {
  const of = (name: string) => carried.find((field) => field.name === name && field.value.length === 8)?.value;
  const [rate, code] = [of("framesPerSecond"), of("timeCode")];
  const isSameRate = rate && Math.abs(rate.readInt32LE(0) / rate.readUInt32LE(4) - (framesPerSecond ?? 0)) < 1e-6;
  const bits = timeCode === undefined ? null : timeCodeBits(timeCode);
  return [
    ...(framesPerSecond && !isSameRate
      ? [{ name: "framesPerSecond", type: "rational", value: integers(...rateFraction(framesPerSecond)) }]
      : []),
    ...(bits !== null && !(code && timeCodeText(code.readUInt32LE(0)) === timeCode)
      ? [{ name: "timeCode", type: "timecode", value: integers(bits, 0) }]
      : []),
  ];
}

/** The reel's name, unless what is carried says one. */
const reelField = ({ reel }: ExrOptions, carried: readonly Field[]): Field[] =>
  reel === undefined || carried.some(({ name }) => name === REEL_FIELD)
    ? []
    : [{ name: REEL_FIELD, type: "string", value: Buffer.from(reel, "utf8") }];

/** Every field of a header: this file's own layout, what is said of it, and what is carried from another file. */
export function fieldsOf(picture: Picture, channels: Channel[], options: ExrOptions): Field[] {
  const { width, height } = picture;
  const { compression = "ZIP", primaries = AP1, lens = {}, text = {}, windows, pixelAspect = 1 } = options;
  const types = ["uint", "half", "float"];
  const list = Buffer.concat([
    ...channels.map(({ name, type }) =>
      Buffer.concat([Buffer.from(`${name}\0`), integers(types.indexOf(type), 0, 1, 1)]),
    ),
    Buffer.of(0),
  ]);
  const whole = { left: 0, top: 0, right: width - 1, bottom: height - 1 };
  const { data, display } = windows ?? { data: whole, display: whole };
  const box = ({ left, top, right, bottom }: Box) => integers(left, top, right, bottom);
  // Names of views are prefixes of layers.
  const hasViews = picture.layers?.some(({ part }) => part === undefined);
  const carried = (options.attributes ?? []).filter(
    ({ name }) => isCarried(name) || (hasViews && name === "multiView"),
  );
  const own: Field[] = [
    { name: "channels", type: "chlist", value: list },
    ...(primaries
      ? [
          {
            name: "chromaticities",
            type: "chromaticities",
            value: floats(...primaries.red, ...primaries.green, ...primaries.blue, ...primaries.white),
          },
        ]
      : []),
    { name: "compression", type: "compression", value: Buffer.of(COMPRESSIONS.indexOf(compression)) },
    { name: "dataWindow", type: "box2i", value: box(data) },
    { name: "displayWindow", type: "box2i", value: box(display) },
    { name: "lineOrder", type: "lineOrder", value: Buffer.of(0) },
    { name: "pixelAspectRatio", type: "float", value: floats(pixelAspect) },
    ...timeFields(options, carried),
    ...lensFields(lens, carried),
    ...reelField(options, carried),
    ...Object.entries(text)
      // A carried field of another kind that bears a text's name is the one that is meant.
      .filter(([name]) => !carried.some((field) => field.name === name && field.type !== "string"))
      .filter(([name]) => [RECIPE_FIELD, RECIPE_TERMS_FIELD].includes(name) || isCarried(name))
      .map(([name, value]) => ({ name, type: "string", value: Buffer.from(value, "utf8") })),
  ];
  // The first of a name is the one that is meant.
  const all = new Map<string, Field>();
  const notes = Object.entries(textOf(options.notes ?? {}, NOTE_FIELDS.OpenEXR)).map(([name, value]) =>
    stringField(name, value),
  );
  for (const field of [...own, ...carried, ...notes, ...DEFAULT_SCREEN])
    if (!all.has(field.name)) all.set(field.name, field);
  return [...all.values()].filter(({ name }) => name.length > 0 && name.length <= LONG_NAME);
}

export const headerOf = (fields: readonly Field[]) =>
  Buffer.concat([...fields.map(({ name, type, value }) => attribute(name, type, value)), Buffer.of(0)]);

export const stringField = (name: string, value: string): Field => ({
  name,
  type: "string",
  value: Buffer.from(value),
});
