import { application } from "@/server/app/application";
import { type ImportedProduction, importQuery } from "@/contract/productions";
import { MAX_ZIP } from "@/server/http/guard";
import { partsOf, respond } from "@/server/http/reply";
import { importZip } from "@/server/productions/productions";

export const dynamic = "force-dynamic";

/** A production that comes from elsewhere, as a zip. */
export const POST = (request: Request) =>
  respond<ImportedProduction>(async () => {
    const { file } = importQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    return importZip((await application()).db, file, partsOf(request.body, MAX_ZIP));
  });
