import { application } from "@/server/app/application";
import { keepTable } from "@/server/colour/tables";
import { type ListedTable, MAX_TABLE, tableBody } from "@/contract/tables";
import { deadlineOf } from "@/server/waiting/gate";
import { readBody, respond } from "@/server/http/reply";
import { listTables } from "@/store/colour";

export const dynamic = "force-dynamic";

export const GET = () => respond<ListedTable[]>(async () => listTables((await application()).db));

/** Keeps a `.cube` or CLF file for views; one of the same file name is replaced. */
export const PUT = (request: Request) =>
  respond<ListedTable>(async () => {
    const { file, text } = await readBody(request, tableBody, MAX_TABLE);
    return keepTable((await application()).db, file, text, deadlineOf(request));
  });
