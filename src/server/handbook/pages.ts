import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { projectRoot } from "../../formats/project";

/** A page of the handbook. */
export interface HandbookPage {
  /** In addresses. */
  id: string;
  title: string;
  /** Markdown, without its heading. */
  text: string;
}

const idOf = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "");

/** Pictures lie in `public/`, which the document names from where it lies itself. */
const ADDRESS_OF_PICTURES = [/\(\.\.\/public\//g, "(/"] as const;

/** The handbook's pages, the first of them what it is: `docs/handbook.md`, a page a heading. */
export async function handbookPages(): Promise<HandbookPage[]> {
  const whole = await readFile(join(/*turbopackIgnore: true*/ projectRoot(), "docs/handbook.md"), "utf8");
  const [first, ...rest] = whole.replace(...ADDRESS_OF_PICTURES).split(/^## /m);
  const page = (title: string, text: string): HandbookPage => ({ id: idOf(title), title, text: text.trim() });
  return [
    page("Handbook", first!.replace(/^# .*$/m, "")),
    ...rest.map((part) => {
      const end = part.indexOf("\n");
      return page(part.slice(0, end).trim(), part.slice(end));
    }),
  ];
}
