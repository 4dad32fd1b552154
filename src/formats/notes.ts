/** What people write of a picture into its file, and where each format keeps it. */
export interface Notes {
  comment?: string;
  author?: string;
  /** When it was taken, YYYY:MM:DD hh:mm:ss. */
  date?: string;
}

/** Names of text fields: OpenEXR's standard attributes; PNG's registered keywords. */
export const NOTE_FIELDS = {
  OpenEXR: { comment: "comments", author: "owner", date: "capDate" },
  PNG: { comment: "Description", author: "Author", date: "Creation Time" },
} as const;

/** Tags of TIFF 6.0: ImageDescription, Artist, DateTime. */
export const NOTE_TAGS = { comment: 270, author: 315, date: 306 } as const;

export const NOTE_NAMES = Object.keys(NOTE_TAGS) as (keyof Notes)[];

type Fields = Record<keyof Notes, string>;

/** The notes among a file's text fields. */
export const notesIn = (text: Record<string, string>, fields: Fields): Notes =>
  Object.fromEntries(NOTE_NAMES.flatMap((name) => (text[fields[name]] ? [[name, text[fields[name]]]] : [])));

/** Of the file alone: who wrote it, and by what recipe. */
const OWN_FIELDS = ["Software", "haloRecipe", "haloRecipeTerms"];

/** Text fields that are neither notes nor the file's own. */
export const otherText = (text: Record<string, string>, fields: Fields): Record<string, string> =>
  Object.fromEntries(
    Object.entries(text).filter(([name]) => !OWN_FIELDS.includes(name) && !Object.values(fields).includes(name)),
  );

/** Notes as text fields. */
export const textOf = (notes: Notes, fields: Fields): Record<string, string> =>
  Object.fromEntries(NOTE_NAMES.flatMap((name) => (notes[name] ? [[fields[name], notes[name]]] : [])));
