/** A value as JSON in which the order of fields says nothing: the same content is the same text on every machine. */
export const canonicalJson = (value: unknown): string =>
  JSON.stringify(value, (_, one: unknown) =>
    one !== null && typeof one === "object" && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).sort(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  );
