/** A text in memory that threads share: UTF-8. */
export type SharedText = Uint8Array<SharedArrayBuffer>;

export function sharedText(text: string): SharedText {
  const bytes = Buffer.from(text, "utf8");
  const shared = new Uint8Array(new SharedArrayBuffer(bytes.length));
  shared.set(bytes);
  return shared;
}

export const textOf = (shared: SharedText): string => Buffer.from(shared).toString("utf8");
