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
  highData: 12,
  descriptor: 20,
  transfer: 21,
  colorimetric: 22,
  bits: 23,
  packing: 24,
  coding: 26,
  dataOffset: 28,
  linePadding: 32,
} as const;

/** Descriptor codes that are read: which samples a pixel has, in the file's order. */
export const DESCRIPTORS: Record<number, string> = { 6: "Y", 50: "RGB", 51: "RGBA", 52: "ABGR" };
export const PACKINGS = ["packed", "filled A", "filled B"] as const;
export type Packing = (typeof PACKINGS)[number];

export const UNDEFINED = 0xffffffff;
