import { hashOf } from "./hash";

const keys = new WeakMap<object, string>();

/**
 * A short name for a profile or a table by what it holds, so that one which is read again is the one it was. They are
 * immutable, and looked through once.
 */
export function contentKey(content: object | null | undefined): string {
  if (!content) return "";
  const known = keys.get(content);
  if (known) return known;
  const text = JSON.stringify(content, (_, value: unknown) =>
    ArrayBuffer.isView(value) ? Array.from(value as Float32Array) : value,
  );
  const key = hashOf(text);
  keys.set(content, key);
  return key;
}
