import { keepLookBody, type Library, type LibraryLook } from "@/contract/looks";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { askedBy } from "@/server/people/admission";
import { keepLook, libraryOf } from "@/server/looks/library";

export const dynamic = "force-dynamic";

/** Looks that a shot may be given to wear. */
export const GET = () => respond<Library>(async () => libraryOf((await application()).db));

export const POST = (request: Request) =>
  respond<LibraryLook>(async () => {
    const { look } = await readBody(request, keepLookBody);
    return keepLook((await application()).db, look, askedBy(request));
  });
