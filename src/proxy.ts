import { NextResponse, type NextRequest } from "next/server";

/** Writes are taken from this application's own pages only. */
export function proxy(request: NextRequest): NextResponse {
  if (request.method === "GET" || request.method === "HEAD") return NextResponse.next();
  const site = request.headers.get("sec-fetch-site");
  const origin = request.headers.get("origin");
  const own = site === "same-origin" && (!origin || new URL(origin).host === request.headers.get("host"));
  return own
    ? NextResponse.next()
    : NextResponse.json({ error: "Writes are taken from this application's own pages only" }, { status: 403 });
}

export const config = { matcher: "/api/:path*" };
