import { readCorrectionsBody, writeCorrectionsBody } from "@/contract/corrections";
import { writeCdl } from "@/formats/cdl/cdl";
import { readCorrections } from "@/server/colour/read-table";
import { deadlineOf } from "@/server/waiting/gate";
import { readBody, respond } from "@/server/http/reply";

/** ASC CDL: text to corrections. */
export const POST = (request: Request) =>
  respond(async () => {
    const { file, text } = await readBody(request, readCorrectionsBody);
    return readCorrections(file, text, deadlineOf(request));
  });

/** ASC CDL: corrections to text. */
export const PUT = (request: Request) =>
  respond(async () => {
    const { kind, corrections } = await readBody(request, writeCorrectionsBody);
    return { text: writeCdl(corrections, kind) };
  });
