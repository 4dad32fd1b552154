import { MID_GREY } from "../colour/grey";

/**
 * The records that pixel-local operations and highlight keys are handed over in, declared once: the TypeScript that
 * writes them (`pack`) and the kernels that read them (assembly/records.ts, which is generated from here by
 * `npm run records`) take their numbers from these lists.
 *
 * A field is a float in its unit; a "vector" of R, G, B and a fourth, aligned to 16 bytes; a "triple", likewise but
 * leaving its fourth lane to the next field; a whole number ("count", "flag", "seed", "bits"); one of a list of names;
 * or a "table" of floats behind the record.
 */
type FloatField = "px" | "1/px" | "mm/px" | "1/mm2" | "m" | "stops" | "light" | "ratio" | "number";
type IntegerField = "count" | "flag" | "seed" | "bits";
type Field = FloatField | IntegerField | "vector" | "triple" | "table" | readonly string[];
export type Fields = Readonly<Record<string, Field>>;

const INTEGERS: ReadonlySet<Field> = new Set<IntegerField>(["count", "flag", "seed", "bits"]);

/** The rows of a 3x3 matrix's transpose: what R, G and B each add to R, G, B. */
const MATRIX = { fromRed: "vector", fromGreen: "vector", fromBlue: "vector" } as const;

/** A table over R, G, B: its lowest places, entries a unit, entries along one of them. */
const LATTICE = { low: "vector", scale: "vector", size: "count", table: "table" } as const;

/** Place of a superellipse, px; from px to its own axes, 1 at its inner line; where its outer line lies there. */
export const SUPERELLIPSE = {
  centreX: "px",
  centreY: "px",
  acrossX: "1/px",
  acrossY: "1/px",
  downX: "1/px",
  downY: "1/px",
  power: "number",
  outer: "ratio",
} as const;

/** How a part of an area joins the parts before it. */
const JOIN = { combine: ["union", "intersection", "difference"], inverted: "flag", strength: "ratio" } as const;

/**
 * Which light is taken: the weighed channels' sum, their largest, or each by itself; ends of the knee, and the limit.
 */
export const KEY = {
  weights: "triple",
  judged: ["sum", "maximum", "each"],
  low: "light",
  high: "light",
  /** What is taken above the knee is the light less this. */
  middle: "light",
  limit: "light",
} as const satisfies Fields;

/** How a layer joins the picture under it. */
export const LAYER_MODES = ["add", "lighten", "soft", "overlay", "dodge", "screen", "multiply", "over"] as const;

/** Where a channel comes from: the program's frame, or one of the two further ones. */
const FRAMES = ["row", "other", "third"] as const;

/** Segments an octave of a curve's table, as bits of a float's mantissa: 256 keep a power curve within 5e-7 of it. */
export const CURVE_DETAIL = 8;
/** Bits of a float that a segment of a curve spans. */
export const CURVE_SHIFT = 23 - CURVE_DETAIL;
/** Reach of a grain's filter, px: three deviations of the largest, softest grain on pixels of 2.5 µm. */
export const GRAIN_MAX_RADIUS = 40;

/** The pixel-local operations; a place in this list is an operation's number. What each does stands at its kernel. */
export const POINT_OPERATIONS = {
  matrix: MATRIX,
  radial: {
    axisX: "px",
    axisY: "px",
    pitchX: "mm/px",
    pitchY: "mm/px",
    /** Entries a square millimetre of height squared. */
    entries: "1/mm2",
    last: "number",
    table: "table",
  },
  shape: { ...SUPERELLIPSE, exposure: "stops", saturation: "ratio", luminance: "vector", colour: "vector" },
  cdl: {
    slope: "vector",
    offset: "vector",
    power: "vector",
    luminance: "vector",
    saturation: "ratio",
    /** Whether any power is not 1. */
    bends: "flag",
  },
  /** `first`: bits of the first entry's light, shifted; `last`: the last entry. */
  curve: { first: "bits", last: "count", table: "table" },
  curves: { first: "bits", last: "count", table: "table" },
  grain: {
    seed: "seed",
    radius: "count",
    /** Share of the layers' common noise, and of each layer's own. */
    common: "ratio",
    own: "ratio",
    layers: "vector",
    shadow: "stops",
    middle: "stops",
    highlight: "stops",
    shadowAt: "stops",
    highlightAt: "stops",
    taps: "table",
  },
  quantise: {},
  keep: {},
  mix: { amount: "ratio" },
  matte: KEY,
  scrub: {},
  /** `base`: 1 over the other frame, 0 over black. */
  difference: { amount: "ratio", base: "ratio" },
  line: LATTICE,
  cube: { ...LATTICE, trilinear: "flag" },
  clamp: { low: "light", high: "light" },
  offset: { ...MATRIX, offset: "vector" },
  lanes: { red: FRAMES, green: FRAMES, blue: FRAMES },
  blend: {},
  product: {},
  unsharp: { amount: "ratio", limit: "ratio" },
  layer: {
    mode: LAYER_MODES,
    amount: "ratio",
    level: "ratio",
    gamma: "number",
    hold: "light",
    dither: "ratio",
    seed: "seed",
    /** Light of the layer that changes nothing. */
    neutral: "light",
  },
  balance: { luminance: "vector", shadows: "vector", middles: "vector", highlights: "vector", vibrance: "ratio" },
  clear: {},
  shapeMatte: { ...JOIN, ...SUPERELLIPSE },
  /** `points`: x and y of each, px; `soft`: from the inner to the outer line. */
  polygonMatte: { ...JOIN, count: "count", rounding: "px", soft: "px", points: "table" },
  keyMatte: {
    ...JOIN,
    coloured: "flag",
    luminance: "vector",
    low: "stops",
    high: "stops",
    soft: "stops",
    /** The colour's shares of red and blue. */
    redShare: "ratio",
    blueShare: "ratio",
    width: "ratio",
    colourSoft: "ratio",
    black: "ratio",
    white: "ratio",
  },
  depthMatte: { ...JOIN, near: "m", far: "m", soft: "ratio" },
  joinMatte: JOIN,
  overlay: { amount: "ratio" },
  take: KEY,
  sum: {},
  /** `quarter`: entries a quarter turn. */
  hues: { luminance: "vector", quarter: "number", table: "table" },
  least: { amount: "ratio" },
  unassociate: {},
} as const satisfies Readonly<Record<string, Fields>>;

export type Code = keyof typeof POINT_OPERATIONS;

type ValueOf<F> = F extends "vector" | "triple"
  ? readonly number[]
  : F extends "table"
    ? Float32Array
    : F extends "flag"
      ? boolean
      : F extends readonly (infer Name)[]
        ? Name
        : number;

/** What a record's fields are filled with. */
export type Values<F extends Fields> = { readonly [N in keyof F]: ValueOf<F[N]> };

/** A pixel-local operation as plain data. */
export type PointOperation = {
  [C in Code]: keyof (typeof POINT_OPERATIONS)[C] extends never
    ? { readonly code: C }
    : { readonly code: C; readonly fields: Values<(typeof POINT_OPERATIONS)[C]> };
}[Code];

const WORD = 4;
const VECTOR = 16;
const align = (bytes: number) => Math.ceil(bytes / VECTOR) * VECTOR;

/** Where each field stands, bytes from the record's beginning; and the record's whole length, a multiple of 16. */
export function layoutOf(fields: Fields): { offsets: Readonly<Record<string, number>>; length: number } {
  const offsets: Record<string, number> = {};
  let end = 0;
  for (const [name, field] of Object.entries(fields)) {
    const isVector = field === "vector" || field === "triple";
    offsets[name] = isVector ? align(end) : end;
    end = offsets[name] + (field === "vector" ? VECTOR : field === "triple" ? VECTOR - WORD : WORD);
  }
  return { offsets, length: align(end) };
}

/** The bytes of a record, its table behind it. */
export function pack<F extends Fields>(fields: F, values: Values<F>): Uint8Array {
  const { offsets, length } = layoutOf(fields);
  const given = values as Readonly<Record<string, unknown>>;
  const tables = Object.keys(fields).filter((name) => fields[name] === "table");
  const tableBytes = tables.reduce((sum, name) => sum + align((given[name] as Float32Array).byteLength), 0);
  const bytes = new ArrayBuffer(length + tableBytes);
  const view = new DataView(bytes);
  let free = length;
  for (const [name, field] of Object.entries(fields)) {
    const at = offsets[name]!;
    const value = given[name];
    if (field === "table") {
      view.setInt32(at, free, true);
      new Float32Array(bytes, free, (value as Float32Array).length).set(value as Float32Array);
      free += align((value as Float32Array).byteLength);
    } else if (Array.isArray(field)) view.setInt32(at, field.indexOf(value), true);
    else if (INTEGERS.has(field)) view.setInt32(at, Number(value), true);
    else if (typeof value === "number") view.setFloat32(at, value, true);
    else (value as readonly number[]).forEach((lane, i) => view.setFloat32(at + i * WORD, lane, true));
  }
  return new Uint8Array(bytes);
}

const constantName = (...words: string[]) =>
  words.map((word) => word.replace(/[A-Z]/g, (letter) => `_${letter}`).toUpperCase()).join("_");

/** The constants of one record: where its fields stand. */
function offsetLines(name: string, fields: Fields): string[] {
  const { offsets } = layoutOf(fields);
  return Object.entries(offsets).map(([field, at]) => {
    const kind = fields[field]!;
    const unit = Array.isArray(kind) ? kind.join(", ") : kind;
    return `/** ${unit} */\nexport const ${constantName(name, field)}: usize = ${at};`;
  });
}

const choiceLines = (name: string, choices: readonly string[]) =>
  choices.map((choice, i) => `export const ${constantName(name, choice)}: i32 = ${i};`);

/** The source of assembly/records.ts. */
export function assemblyRecords(): string {
  const numbers = Object.keys(POINT_OPERATIONS).map((code, i) => `export const ${constantName(code)}: i32 = ${i + 1};`);
  const offsets = Object.entries(POINT_OPERATIONS).flatMap(([code, fields]) => offsetLines(code, fields));
  const sections = [
    ["The operations of a program.", numbers],
    ["How parts of an area join.", choiceLines("combine", JOIN.combine)],
    ["How a layer joins the picture.", choiceLines("mode", LAYER_MODES)],
    ["Which frame a channel comes from.", choiceLines("frame", FRAMES)],
    ["What a key judges light by.", choiceLines("judged", KEY.judged)],
    [
      "Mid-grey and its logarithm; bits of a float that a segment of a curve spans; the reach of a grain's filter, px.",
      [
        `export const MID_GREY: f32 = ${MID_GREY};`,
        `export const LOG2_MID_GREY: f32 = ${Math.log2(MID_GREY)};`,
        `export const CURVE_SHIFT: i32 = ${CURVE_SHIFT};`,
        `export const GRAIN_MAX_RADIUS: i32 = ${GRAIN_MAX_RADIUS};`,
      ],
    ],
    ["Where the fields of a highlight key stand, bytes.", offsetLines("key", KEY)],
    ["Where the fields of each operation stand, bytes.", offsets],
  ] as const;
  return [
    "// Generated from src/core/engine/records.ts by `npm run records`; change it there.",
    ...sections.map(([title, lines]) => `\n// ${title}\n${lines.join("\n")}`),
    "",
  ].join("\n");
}
