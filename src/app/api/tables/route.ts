import { z } from "zod";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/api/respond";
import { readTable } from "@/server/colour/made";
import { listTables, putTable } from "@/store/queries";

export const dynamic = "force-dynamic";

const table = z
  .object({
    file: z.string().min(1).max(200),
    text: z
      .string()
      .min(1)
      .max(64 * 2 ** 20),
  })
  .strict();

export const GET = () =>
  respond(async () => (await listTables((await application()).db)).map(({ id, name, file }) => ({ id, name, file })));

/** Keeps a `.cube` or CLF file for views; one of the same file name is replaced. */
export const PUT = (request: Request) =>
  respond(async () => {
    const { file, text } = await readBody(request, table, 64);
    const { name } = readTable(file, text);
    const id =
      file
        .toLowerCase()
        .replace(/\.[^.]+$/, "")
        .replace(/[^a-z0-9]+/g, "-")
        .replace(/^-|-$/g, "")
        .slice(0, 60) || "table";
    await putTable((await application()).db, { id, name, file, text });
    return { id, name, file };
  });
