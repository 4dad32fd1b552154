import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { findingOf } from "@/server/intake/finding";
import { footageRoots } from "@/server/storage/named-roots";
import { type TakenIn, type Finding, folderBody, takeFolderBody } from "@/contract/intake";
import { takeIn } from "@/server/intake/take-in";

export const dynamic = "force-dynamic";

/** Footage used where it lies, under the allowed roots. */
export const GET = () => respond(async () => ({ roots: footageRoots().map(({ path }) => path) }));

export const POST = (request: Request) =>
  respond<Finding>(async () => findingOf({ kind: "folder", path: (await readBody(request, folderBody)).folder }));

export const PUT = (request: Request) =>
  respond<TakenIn>(async () => {
    const { folder: path, decisions } = await readBody(request, takeFolderBody);
    const production = new URL(request.url).searchParams.get("production");
    return takeIn((await application()).db, { kind: "folder", path }, decisions, production);
  });
