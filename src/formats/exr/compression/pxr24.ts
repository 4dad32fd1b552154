import type { Channel } from "../header";

/**
 * PXR24: differences of 16, 24 (floats lose 8 bits) or 32 bits along a line, split into byte planes, then deflated.
 * `bytes` is inflated.
 */
export function decodePxr24(bytes: Buffer, channels: Channel[], width: number, lines: number, size: number): Buffer {
  const out = Buffer.alloc(size);
  let from = 0;
  let to = 0;
  for (let line = 0; line < lines; line++) {
    for (const { type } of channels) {
      const planes = type === "half" ? 2 : type === "float" ? 3 : 4;
      if (from + planes * width > bytes.length) throw new Error("its lines are cut off");
      let value = 0;
      for (let x = 0; x < width; x++) {
        let difference = 0;
        for (let plane = 0; plane < planes; plane++) difference = (difference << 8) | bytes[from + plane * width + x]!;
        value = (value + (type === "float" ? difference << 8 : difference)) | 0;
        if (type === "half") to = out.writeUInt16LE(value & 0xffff, to);
        else to = out.writeInt32LE(value, to);
      }
      from += planes * width;
    }
  }
  return out;
}
