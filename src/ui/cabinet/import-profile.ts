import { z } from "zod";
import { profileSchema, type Profile } from "@/core/profile/profiles";
import { fromCsv } from "@/core/profile/sheets/csv";

/** What a file's text came to: a profile, or everything that is wrong with it, each with its place. */
export type Imported = { profile: Profile } | { problems: string[] };

const MAX_BYTES = 8 * 2 ** 20;

const problemsOf = (error: z.ZodError) =>
  error.issues.map(({ path, message }) => `${path.join(".") || "the file"}: ${message}`);

/** Reads a profile from JSON or CSV. */
export async function readProfileFile(file: File): Promise<Imported> {
  if (file.size > MAX_BYTES) return { problems: [`${file.name} is larger than 8 MiB`] };
  const text = await file.text();
  try {
    if (/\.csv$/i.test(file.name)) return { profile: fromCsv(text) };
    const read = profileSchema.safeParse(JSON.parse(text));
    return read.success ? { profile: read.data } : { problems: problemsOf(read.error) };
  } catch (error) {
    if (error instanceof z.ZodError) return { problems: problemsOf(error) };
    return { problems: [(error as Error).message] };
  }
}
