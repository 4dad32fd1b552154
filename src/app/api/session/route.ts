import { type Session, signInBody, signOutBody } from "@/contract/people";
import { application } from "@/server/app/application";
import { readBody, respond } from "@/server/http/reply";
import { askedBy, askedFrom, cameSecurely } from "@/server/people/admission";
import { noCookie } from "@/server/people/sessions";
import { signIn } from "@/server/people/sign-in";
import { endSessions } from "@/store/people";

export const dynamic = "force-dynamic";

const answer = (session: Session, cookie: string) => Response.json(session, { headers: { "set-cookie": cookie } });

/** Who is signed in. */
export const GET = (request: Request) => respond<Session>(async () => ({ name: askedBy(request) }));

/** Signs in. */
export const POST = (request: Request) =>
  respond<Session>(async () => {
    const { db } = await application();
    const { name, passphrase } = await readBody(request, signInBody);
    const cookie = await signIn(db, name, passphrase, { from: askedFrom(request), isSecure: cameSecurely(request) });
    return answer({ name }, cookie);
  });

/** Signs out, here or everywhere. */
export const DELETE = (request: Request) =>
  respond<Session>(async () => {
    const { everywhere } = await readBody(request, signOutBody);
    const name = askedBy(request);
    if (everywhere && name !== null) await endSessions((await application()).db, name);
    return answer({ name: null }, noCookie(cameSecurely(request)));
  });
