import { z } from "zod";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { findingOf } from "@/server/intake/finding";
import { footageRoots } from "@/server/intake/places";
import { decisionSchema, takeIn } from "@/server/intake/take-in";

export const dynamic = "force-dynamic";

const folder = z.string().min(1).max(4000);

/** Footage used where it lies, under the allowed roots. */
export const GET = () => respond(async () => ({ roots: footageRoots() }));

export const POST = (request: Request) =>
  respond(async () =>
    findingOf({ kind: "folder", path: (await readBody(request, z.object({ folder }).strict())).folder }),
  );

export const PUT = (request: Request) =>
  respond(async () => {
    const { folder: path, decisions } = await readBody(
      request,
      z.object({ folder, decisions: z.array(decisionSchema).max(1000) }).strict(),
    );
    return takeIn((await application()).db, { kind: "folder", path }, decisions);
  });
