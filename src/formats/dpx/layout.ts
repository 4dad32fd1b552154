/** SMPTE 268M (version 2.0): where the fields of the header stand, bytes, and what its codes mean. */
export const HEADER_BYTES = 2048;
export const MAGIC = 0x53445058; // "SDPX" in the file's own byte order

export const AT = {
  imageOffset: 4,
  version: 8,
  fileSize: 16,
  name: 36,
  timestamp: 136,
  creator: 160,
  project: 260,
  orientation: 768,
  elements: 770,
  width: 772,
  height: 776,
  /** First image element; others follow every `elementBytes`. */
  element: 780,
  elementBytes: 72,
  /** Pixels' width over their height, two whole numbers. */
  pixelAspect: 1628,
  filmRate: 1724,
  filmFrame: 1712,
  timeCode: 1920,
  televisionRate: 1940,
  user: 2048,
} as const;

/** Fields of an image element, bytes from its start. */
export const ELEMENT = {
  sign: 0,
  lowData: 4,
  lowQuantity: 8,
  highData: 12,
  highQuantity: 16,
  descriptor: 20,
  transfer: 21,
  colorimetric: 22,
  bits: 23,
  packing: 24,
  coding: 26,
  dataOffset: 28,
  linePadding: 32,
  imagePadding: 36,
} as const;

/** Descriptor codes that are read: which samples a pixel has, in the file's order. */
export const DESCRIPTORS: Record<number, string> = { 6: "Y", 50: "RGB", 51: "RGBA", 52: "ABGR" };
export const PACKINGS = ["packed", "filled A", "filled B"] as const;
export type Packing = (typeof PACKINGS)[number];

export const UNDEFINED = 0xffffffff;

/** Fields of characters, [first byte, length]: empty where nothing is said. Others are all ones then. */
export const TEXT_FIELDS = [
  [36, 100],
  [136, 24],
  [160, 100],
  [260, 200],
  [460, 200],
  [664, 104],
  ...Array.from({ length: 8 }, (_, i): [number, number] => [780 + 72 * i + 40, 32]),
  [1356, 52],
  [1432, 100],
  [1532, 24],
  [1556, 32],
  [1588, 32],
  [1644, 20],
  [1664, 2],
  [1666, 2],
  [1668, 2],
  [1670, 6],
  [1676, 4],
  [1680, 32],
  [1732, 32],
  [1764, 100],
  [1864, 56],
  [1972, 76],
] as const satisfies readonly (readonly [number, number])[];

/** Generic header and industry header, bytes. */
export const [GENERIC_BYTES, INDUSTRY_BYTES] = [1664, 384];
