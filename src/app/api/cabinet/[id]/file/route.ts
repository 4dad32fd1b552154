import { writeProfileQuery } from "@/contract/cabinet";
import { application } from "@/server/app/application";
import { asRefusal, fileOfProfile } from "@/server/cabinet/files";
import { notFound } from "@/server/errors/errors";
import { respond } from "@/server/http/reply";
import { findProfile } from "@/store/profiles";

export const dynamic = "force-dynamic";

type Context = { params: Promise<{ id: string }> };

/** A profile as a file of a form. */
export const GET = (request: Request, { params }: Context) =>
  respond(async () => {
    const { form, ...shot } = writeProfileQuery.parse(Object.fromEntries(new URL(request.url).searchParams));
    const { id } = await params;
    const found = await findProfile((await application()).db, id);
    if (!found) throw notFound(`The profile ${id}`);
    const bytes = await fileOfProfile(found.body, form, shot).catch((error: unknown) => {
      throw asRefusal(error);
    });
    return new Response(new Uint8Array(bytes), { headers: { "content-type": "application/octet-stream" } });
  });
