/**
 * A short name for a text, 64 bits of a multiplicative hash: equal texts have equal ones, and others do not by any
 * likely chance.
 */
export function hashOf(text: string): string {
  let [a, b] = [0x9e3779b1, 0x85ebca6b];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 0xcc9e2d51);
    a = (a << 13) | (a >>> 19);
    b = Math.imul(b ^ code, 0x1b873593);
    b = (b << 15) | (b >>> 17);
  }
  const hex = (word: number) => (word >>> 0).toString(16).padStart(8, "0");
  return hex(a ^ text.length) + hex(b ^ (a >>> 3));
}
