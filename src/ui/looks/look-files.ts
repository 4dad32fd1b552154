import { type Look, lookSchema } from "@/core/look/look";
import { problems } from "@/core/problems";

/** Larger files are no looks, bytes. */
const LARGEST = 4 * 2 ** 20;

/** Looks in JSON files; what is none is told of by its name and why. */
export async function readLookFiles(
  files: readonly File[],
): Promise<{ looks: Look[]; refused: { file: string; reason: string }[] }> {
  const looks: Look[] = [];
  const refused: { file: string; reason: string }[] = [];
  for (const file of files) {
    const reason = await (async () => {
      if (file.size > LARGEST) return "is larger than any look";
      let value: unknown;
      try {
        value = JSON.parse(await file.text());
      } catch {
        return "is not JSON";
      }
      const read = lookSchema.safeParse(value);
      if (read.success) looks.push(read.data);
      return read.success ? null : problems(lookSchema, value).slice(0, 2).join("; ");
    })();
    if (reason !== null) refused.push({ file: file.name, reason });
  }
  return { looks, refused };
}

/** A look's name as a file's. */
export const fileNameFor = (name: string): string =>
  `${
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-+|-+$/g, "") || "look"
  }.json`;
