const MAX_LENGTH = 56;

/** A name as an id: lower-case letters, digits and hyphens. `otherwise`: where nothing of it can be one. */
export const slugOf = (name: string, otherwise: string): string =>
  name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .slice(0, MAX_LENGTH)
    .replace(/^-+|-+$/g, "") || otherwise;
