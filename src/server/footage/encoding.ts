import { REC709 } from "../../core/colour/primaries";
import type { EncodingName } from "../../core/colour/encodings";
import type { RawImage } from "../../core/image/image";

/** Largest distance of chromaticities that still counts as the same. */
const SAME = 0.002;

/** What an image is likely encoded as, and why. */
export function guessEncoding(image: Pick<RawImage, "pixels"> & { header?: { chromaticities?: number[] } }): { encoding: EncodingName; reason: string } {
  const { depth } = image.pixels;
  if (depth === "u8" || depth === "u16") return { encoding: "srgb", reason: `${depth === "u8" ? 8 : 16}-bit whole numbers are taken as a picture for an sRGB display` };
  const found = image.header?.chromaticities;
  const rec709 = [...REC709.red, ...REC709.green, ...REC709.blue, ...REC709.white];
  if (found && found.every((value, i) => Math.abs(value - rec709[i]!) < SAME)) return { encoding: "linear-rec709", reason: "float samples whose header names BT.709 primaries" };
  if (found) return { encoding: "linear-ap1", reason: "float samples; the header's primaries are taken as working light's" };
  return { encoding: "linear-ap1", reason: "float samples without stated primaries are taken as working light" };
}
