import { type CabinetEntry, keepProfileBody } from "@/contract/cabinet";
import { application } from "@/server/app/application";
import { cabinetEntries, keepInCabinet } from "@/server/cabinet/cabinet";
import { readBody, respond } from "@/server/http/reply";

export const dynamic = "force-dynamic";

export const GET = () => respond<CabinetEntry[]>(async () => cabinetEntries((await application()).db));

export const POST = (request: Request) =>
  respond<CabinetEntry>(async () => {
    const { profile, copiedFrom } = await readBody(request, keepProfileBody);
    return keepInCabinet((await application()).db, profile, copiedFrom);
  });
