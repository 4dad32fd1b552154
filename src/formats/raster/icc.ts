/** The description in an ICC profile (ICC.1): its `desc` tag, in either of its two forms; "" where there is none. */
export function iccDescription(profile: Buffer): string {
  if (profile.length < 132) return "";
  const count = Math.min(profile.readUInt32BE(128), 200);
  for (let i = 0; i < count; i++) {
    const entry = 132 + i * 12;
    if (entry + 12 > profile.length) return "";
    if (profile.toString("latin1", entry, entry + 4) !== "desc") continue;
    const at = profile.readUInt32BE(entry + 4);
    if (at + 28 > profile.length) return "";
    const kind = profile.toString("latin1", at, at + 4);
    if (kind === "desc")
      return clean(
        profile.toString("latin1", at + 12, Math.min(profile.length, at + 12 + profile.readUInt32BE(at + 8))),
      );
    if (kind !== "mluc") return "";
    const [length, offset] = [profile.readUInt32BE(at + 20), profile.readUInt32BE(at + 24)];
    const words = profile.subarray(at + offset, Math.min(profile.length, at + offset + length));
    return clean(
      Array.from({ length: words.length >> 1 }, (_, k) => String.fromCharCode(words.readUInt16BE(k * 2))).join(""),
    );
  }
  return "";
}

const clean = (words: string) =>
  words
    .replace(/\0[\s\S]*$/, "")
    .replace(/[^\x20-\x7e]/g, "")
    .trim()
    .slice(0, 200);
