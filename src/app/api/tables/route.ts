import { z } from "zod";
import { application } from "@/server/app/application";
import { keepTable } from "@/server/colour/tables";
import { LARGEST_TABLE } from "@/server/http/guard";
import { readBody, respond } from "@/server/http/reply";
import { listTables } from "@/store/queries";

export const dynamic = "force-dynamic";

const table = z.object({ file: z.string().min(1).max(200), text: z.string().min(1).max(LARGEST_TABLE) }).strict();

export const GET = () =>
  respond(async () => (await listTables((await application()).db)).map(({ id, name, file }) => ({ id, name, file })));

/** Keeps a `.cube` or CLF file for views; one of the same file name is replaced. */
export const PUT = (request: Request) =>
  respond(async () => {
    const { file, text } = await readBody(request, table, LARGEST_TABLE);
    return keepTable((await application()).db, file, text);
  });
