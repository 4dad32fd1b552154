import { createHash, timingSafeEqual } from "node:crypto";
import { hostname, networkInterfaces } from "node:os";
import { MAX_PROFILE_FILE } from "../../contract/cabinet";
import { MAX_TABLE } from "../../contract/tables";

/** What of a request is looked at before anything else is done with it. */
export interface Asked {
  method: string;
  url: string;
  headers: Record<string, string | string[] | undefined>;
}

export interface Refused {
  status: number;
  message: string;
}

const METHODS = ["GET", "HEAD", "PUT", "POST", "PATCH", "DELETE"];
export const ALLOW = METHODS.join(", ");
const READS = ["GET", "HEAD"];
const MAX_URL_LENGTH = 8192;

/** Largest bodies, bytes: of a request that is JSON, of a file to take in, of a movie, of a production. */
const MIB = 2 ** 20;
export const MAX_BODY = 16 * MIB;
export const MAX_UPLOAD = 1536 * MIB;
export const MAX_MOVIE = 4096 * MIB;
export const MAX_ZIP = 2048 * MIB;

const LIMITS: [RegExp, number][] = [
  [/^\/api\/intake\/[^/]+\/files\//, MAX_UPLOAD],
  [/^\/api\/renders\/[^/]+\/movie$/, MAX_MOVIE],
  [/^\/api\/(tables|encodings)$/, MAX_TABLE],
  [/^\/api\/cabinet\/files$/, MAX_PROFILE_FILE],
  [/^\/api\/productions\/files$/, MAX_ZIP],
];

/** What a request to this path may send, bytes. */
export const largestBody = (path: string) => LIMITS.find(([pattern]) => pattern.test(path))?.[1] ?? MAX_BODY;

/** The name of a Host or Origin, without its port; IPv6 addresses without brackets. */
function nameOf(host: string): string | null {
  const found = /^(?:\[([0-9a-f:.]+)\]|([^:/@\s[\]]+))(?::\d{1,5})?$/i.exec(host);
  return found ? (found[1] ?? found[2]!).toLowerCase().replace(/\.$/, "") : null;
}

/**
 * Names this server answers to: this machine's own names and addresses, and those the user lists (HALO_HOSTS, separated
 * by commas or spaces). Any other name is somebody else's, pointed at this machine to read what it holds.
 */
export function ownNames(listed = process.env.HALO_HOSTS ?? "", bound = process.env.HOST ?? ""): Set<string> {
  const machine = hostname().toLowerCase();
  const addresses = Object.values(networkInterfaces()).flatMap((all) => (all ?? []).map(({ address }) => address));
  const own = [
    "localhost",
    "127.0.0.1",
    "::1",
    machine,
    `${machine}.local`,
    bound,
    ...addresses,
    ...listed.split(/[\s,]+/),
  ];
  return new Set(own.filter(Boolean).map((name) => name.toLowerCase().split("%")[0]!));
}

function pathProblem(url: string): Refused | null {
  if (url.length > MAX_URL_LENGTH)
    return { status: 414, message: `The address is longer than ${MAX_URL_LENGTH} characters` };
  if (!url.startsWith("/")) return { status: 400, message: "The address is no path of this server" };
  try {
    // Backslashes and NUL are in no name here, and mean other things to what lies below.
    const decoded = decodeURIComponent(url.split("?")[0]!);
    const query = decodeURIComponent((url.split("?")[1] ?? "").replaceAll("+", " "));
    if (/[\0\\]/.test(decoded) || query.includes("\0"))
      return { status: 400, message: "The address holds characters that no name here has" };
    // What lies below would follow them: a path would be asked for under another's name.
    if (decoded.split("/").some((name) => name === "." || name === ".."))
      return { status: 400, message: "The address leads up and down again; write where it ends" };
  } catch {
    return { status: 400, message: "The address is not properly encoded" };
  }
  return null;
}

const one = (value: string | string[] | undefined) => (Array.isArray(value) ? value.join(", ") : value);

/**
 * Writes are taken from this application's own pages only. Over plain HTTP in a local network browsers send Origin
 * alone.
 */
function isFromOwnPage(headers: Asked["headers"], host: string): boolean {
  const site = one(headers["sec-fetch-site"]);
  const origin = one(headers.origin);
  if (site !== undefined && site !== "same-origin") return false;
  if (origin === undefined) return site === "same-origin";
  return URL.canParse(origin) && new URL(origin).host === host.toLowerCase();
}

/** Shorter tokens can be guessed. */
export const MIN_TOKEN = 16;

const digest = (text: string) => createHash("sha256").update(text).digest();

/** Whether a request carries the server's token; null where it carries none. Takes as long for any wrong one. */
export function carriesToken(headers: Asked["headers"], token: string): boolean | null {
  const given = one(headers.authorization);
  if (given === undefined) return null;
  const [, bearer = ""] = /^Bearer +(\S+)$/i.exec(given) ?? [];
  return token !== "" && timingSafeEqual(digest(bearer), digest(token));
}

/** Another program than a browser's page says nothing of a page. */
const saysNoPage = (headers: Asked["headers"]): boolean =>
  headers.origin === undefined && headers["sec-fetch-site"] === undefined;

/**
 * Why a request is not served, or null. Nothing of its body has been read yet. `token`: what programs that write must
 * carry (HALO_TOKEN); "" where none may. `isUsers`: it carries one that was made for a user, which is as good.
 */
export function refusalOf(
  { method, url, headers }: Asked,
  names: ReadonlySet<string>,
  token = process.env.HALO_TOKEN ?? "",
  isUsers = false,
): Refused | null {
  const host = one(headers.host) ?? "";
  const name = nameOf(host);
  if (!name || !names.has(name))
    return { status: 403, message: `This server does not go by the name “${host}”. Names are listed in HALO_HOSTS` };
  if (!METHODS.includes(method)) return { status: 405, message: `${method} is not done here; ${ALLOW} are` };
  const problem = pathProblem(url);
  if (problem) return problem;
  const isProgram = isUsers || carriesToken(headers, token);
  if (isProgram === false) return { status: 401, message: "The token is not this server's" };
  if (READS.includes(method)) return null;
  if (!(isProgram && saysNoPage(headers)) && !isFromOwnPage(headers, host))
    return {
      status: 403,
      message: "Writes are taken from this application's own pages, and of programs that carry HALO_TOKEN",
    };
  const path = url.split("?")[0]!;
  const length = one(headers["content-length"]);
  const largest = largestBody(path);
  if (length !== undefined && !(Number(length) <= largest))
    return { status: 413, message: `The request is larger than ${largest / MIB} MiB` };
  return null;
}
