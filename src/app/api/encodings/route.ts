import type { ListedEncoding } from "@/contract/encodings";
import { application } from "@/server/app/application";
import { ownEncodingSchema } from "@/core/colour/own-encoding";
import { isEncodingName } from "@/core/colour/encodings";
import { readBody, Refusal, respond } from "@/server/http/reply";
import { encodingFrom } from "@/server/colour/own-encoding";
import { listEncodings, putEncoding } from "@/store/queries";

export const dynamic = "force-dynamic";

/** The encodings the user made; tables without their text. */
export const GET = () =>
  respond<ListedEncoding[]>(async () =>
    (await listEncodings((await application()).db)).map(({ body }) => {
      if (body.kind === "log") return body;
      const { text: _, ...rest } = body;
      return rest;
    }),
  );

/** Keeps an encoding under its id; one that is there is replaced. */
export const PUT = (request: Request) =>
  respond(async () => {
    const body = await readBody(request, ownEncodingSchema);
    if (isEncodingName(body.id))
      throw new Refusal(400, `id: “${body.id}” is the name of an encoding there always is; choose another`);
    encodingFrom(body); // throws where its table cannot be read
    await putEncoding((await application()).db, body);
  });
