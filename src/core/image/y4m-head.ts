/** What the first line of a YUV4MPEG2 file says of its frames. */
export interface Y4mHead {
  width: number;
  height: number;
  rate: readonly [numerator: number, denominator: number];
  chroma: "420" | "422" | "444" | "mono";
  bits: number;
  /** Where chroma samples of 4:2:0 at 8 bits lie. Default: as MPEG-2 has them. */
  siting?: "jpeg" | "mpeg2";
  /** Left out where it is not known. */
  range?: "FULL" | "LIMITED";
  matrix?: string;
  transfer?: string;
  primaries?: string;
  hasAlpha?: boolean;
  /** Width of a pixel over its height. Default: 1. */
  pixelAspect?: number;
}

/** Parts that a pixel's aspect is rounded to. */
const ASPECT_PARTS = 10_000;
const divisor = (a: number, b: number): number => (b ? divisor(b, a % b) : a);

/** A pixel's aspect as a fraction in whole numbers. */
function aspectOf(pixelAspect: number): string {
  const parts = Math.max(1, Math.round(pixelAspect * ASPECT_PARTS));
  const common = divisor(parts, ASPECT_PARTS);
  return `${parts / common}:${ASPECT_PARTS / common}`;
}

export const Y4M_MAGIC = "YUV4MPEG2";

/**
 * The first line, without its end. Colour has no words in the format of old: they stand in X parameters, which readers
 * that do not know them pass over.
 */
export function y4mHeadLine(head: Y4mHead): string {
  const { chroma, bits, siting = "mpeg2" } = head;
  const sited = chroma === "420" && bits === 8 ? siting : "";
  const deep = bits > 8 ? `${chroma === "mono" ? "" : "p"}${bits}` : "";
  return [
    `${Y4M_MAGIC} W${head.width} H${head.height} F${head.rate.join(":")} Ip A${aspectOf(head.pixelAspect ?? 1)} C${chroma}${sited}${deep}`,
    head.range && `XCOLORRANGE=${head.range}`,
    head.matrix && `XHALOMATRIX=${head.matrix}`,
    head.transfer && `XHALOTRANSFER=${head.transfer}`,
    head.primaries && `XHALOPRIMARIES=${head.primaries}`,
    head.hasAlpha && "XHALOALPHA=1",
  ]
    .filter(Boolean)
    .join(" ");
}
