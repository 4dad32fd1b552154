import type { ListedEncoding } from "@/contract/encodings";
import { application } from "@/server/app/application";
import { ownEncodingSchema } from "@/core/colour/own-encoding";
import { isEncodingName } from "@/core/colour/encodings";
import { Refusal } from "@/server/errors/errors";
import { readBody, respond } from "@/server/http/reply";
import { checkTable } from "@/server/colour/read-table";
import { deadlineOf } from "@/server/waiting/gate";
import { MAX_TABLE } from "@/contract/tables";
import { listEncodings, putEncoding } from "@/store/colour";

export const dynamic = "force-dynamic";

/** The encodings the user made; tables without their text. */
export const GET = () =>
  respond<ListedEncoding[]>(async () => (await listEncodings((await application()).db)).map(({ body }) => body));

/** Keeps an encoding under its id; one that is there is replaced. */
export const PUT = (request: Request) =>
  respond(async () => {
    const body = await readBody(request, ownEncodingSchema, MAX_TABLE);
    if (isEncodingName(body.id))
      throw new Refusal("invalid", `id: “${body.id}” is the name of an encoding there always is; choose another`);
    if (body.kind === "table") await checkTable(body.file, body.text, deadlineOf(request));
    await putEncoding((await application()).db, body);
  });
