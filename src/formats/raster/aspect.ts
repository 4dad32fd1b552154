/** Pixels that are not square, in formats that tell how densely pixels stand across and down. */

/** Counts a ratio is told by. */
const PARTS = 10_000;
/** What is further from square than this is no aspect but a scanner's fault. */
const MAX_ASPECT = 4;
/** What is nearer to square is rounding. */
const MIN_DIFFERENCE = 0.002;

/** Width of a pixel over its height, of how densely pixels stand across and down; undefined where it is square. */
export function aspectOf(density: readonly [number, number] | undefined): number | undefined {
  if (!density) return undefined;
  const aspect = density[1] / density[0];
  const isOne = aspect > 1 / MAX_ASPECT && aspect < MAX_ASPECT && Math.abs(aspect - 1) > MIN_DIFFERENCE;
  return isOne ? Number(aspect.toFixed(4)) : undefined;
}

/** How densely pixels of an aspect stand, across and down, in whole numbers. */
export const densityOf = (aspect: number): [number, number] => [PARTS, Math.round(PARTS * aspect)];

/** Where a JFIF header (JFIF 1.02) has its unit and its densities, from the file's begin. */
const JFIF = { mark: 6, unit: 13, across: 14, down: 16 } as const;
const isJfif = (bytes: Buffer) => bytes.length > 20 && bytes.toString("latin1", JFIF.mark, JFIF.mark + 5) === "JFIF\0";

/** Without a unit the two are the ratio itself, "X and Y specify the pixel aspect ratio". */
export function jpegDensity(bytes: Buffer): [number, number] | undefined {
  if (!isJfif(bytes)) return undefined;
  const [across, down] = [bytes.readUInt16BE(JFIF.across), bytes.readUInt16BE(JFIF.down)];
  return bytes[JFIF.unit] ? [across, down] : [down, across];
}

/** Begins a JPEG that has no JFIF header with one that says a pixel's aspect, without a unit. */
export function addJpegDensity(bytes: Buffer, aspect: number): Buffer {
  if (aspect === 1 || isJfif(bytes)) return bytes;
  const [down, across] = densityOf(aspect);
  const header = Buffer.from("\xff\xe0\x00\x10JFIF\0\x01\x02\0\0\0\0\0\0\0", "latin1");
  // As they stand behind the two bytes that begin the file.
  header.writeUInt16BE(Math.min(across, 0xffff), JFIF.across - 2);
  header.writeUInt16BE(down, JFIF.down - 2);
  return Buffer.concat([bytes.subarray(0, 2), header, bytes.subarray(2)]);
}
