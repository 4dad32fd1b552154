import type { Ranges } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import type { Profile } from "@/core/profile/profiles";
import type { MadeEncoding, TableEncoding } from "@/core/colour/made";
import type { PlainTransform } from "@/core/colour/transform/plain";
import type { Footage, ListedRender, Shot as ShotRow, ShotChange, Version } from "@/store/queries";
import type { Gaps } from "@/store/schema";

/** What the server tells, as JSON: dates are text. */
type Told<T> = { [K in keyof T]: T[K] extends Date | null ? string | null : T[K] extends Date ? string : T[K] };

export type Shot = Told<ShotRow> & {
  footage: Told<Footage>;
  production: { id: string; name: string };
  /** The frames in use, from in to out; missing ones count where something stands in for them. */
  frames: Ranges;
  progress: number;
  /** Whether the footage says how far things are. */
  hasDepth: boolean;
};
export type ShotDetail = Shot & { look: Look; lookRevision: number; versions: Told<Version>[] };
export type RenderRow = Told<ListedRender> & { movies: string[] };
export type KeptVersion = Told<Version>;

/** A made encoding as it is listed: tables come without their text. */
export type ListedEncoding = Exclude<MadeEncoding, TableEncoding> | Omit<TableEncoding, "text">;
export type { ShotChange, Gaps, MadeEncoding };

/** An ASC CDL correction. */
export interface Correction {
  id: string;
  slope: [number, number, number];
  offset: [number, number, number];
  power: [number, number, number];
  saturation: number;
}

/** What was found in files before they are taken in. */
export interface FoundGroup {
  folder: string;
  pattern: string;
  numbers: Ranges;
  gaps: Ranges;
  files: string[];
  width: number;
  height: number;
  depth: Shot["footage"]["depth"];
  format: string;
  channels: string[];
  framesPerSecond?: number;
  timeCode?: string;
  bytes: number;
  encoding: string;
  reason: string;
}
export interface Finding {
  groups: FoundGroup[];
  refused: { name: string; reason: string }[];
}
export interface Decision {
  folder: string;
  pattern: string;
  /** Number of the first frame. */
  first: number;
  take: boolean;
  gaps: Gaps;
  encoding?: string;
}
/** What hangs on something that may be removed. */
export interface Uses {
  usedBy: string[];
  goes: string[];
  stays: string[];
}
export interface TakenIn {
  shots: string[];
  refused: { name: string; reason: string }[];
}

/** What the server did not do, and why; `more`: what it said beside that. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly more: Record<string, unknown>,
  ) {
    super(message);
  }
}

async function call<T>(path: string, options: RequestInit = {}): Promise<T> {
  const response = await fetch(path, options);
  const value = (await response.json()) as T & { error?: string };
  if (!response.ok) throw new Refused(response.status, value.error ?? `The server answered ${response.status}`, value);
  return value;
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  body: JSON.stringify(body),
});

export const api = {
  shots: () => call<Shot[]>("/api/shots"),
  shot: (id: string) => call<ShotDetail>(`/api/shots/${id}`),
  /** Changes shots as they were seen; one that was changed since is not. `leaving`: the request outlives the page. */
  changeShots: (shots: Pick<Shot, "id" | "revision">[], change: ShotChange, leaving = false) =>
    call<{ revisions: Record<string, number> }>("/api/shots", {
      ...json("PATCH", {
        ids: shots.map(({ id }) => id),
        change,
        revisions: Object.fromEntries(shots.map(({ id, revision }) => [id, revision])),
      }),
      keepalive: leaving,
    }),
  usesOfShot: (id: string) => call<Uses>(`/api/shots/${id}/uses`),
  removeShot: (id: string) => call(`/api/shots/${id}`, { method: "DELETE" }),
  /** Saves a look above the one of `revision`. `leaving`: the request outlives the page. */
  saveLook: (id: string, look: Look, revision: number, leaving = false) =>
    call<{ revision: number }>(`/api/shots/${id}/look`, { ...json("PUT", { look, revision }), keepalive: leaving }),
  keepVersion: (id: string, look: Look, name?: string) =>
    call<KeptVersion>(`/api/shots/${id}/versions`, json("POST", { look, name })),
  renameVersion: (id: string, { id: version, revision }: KeptVersion, name: string) =>
    call<KeptVersion>(`/api/shots/${id}/versions/${version}`, json("PATCH", { name, revision })),
  removeVersion: (id: string, version: number) => call(`/api/shots/${id}/versions/${version}`, { method: "DELETE" }),
  readyLooks: () => call<{ id: string; purpose: string; look: Look }[]>("/api/looks"),
  profiles: () => call<Profile[]>("/api/profiles"),
  renders: () => call<RenderRow[]>("/api/renders"),
  addRender: (order: {
    shotId: string;
    versionName: string;
    look: Look;
    format: string;
    depth: string;
    compression?: string;
    encoding?: string | null;
    first: number;
    last: number;
  }) => call<{ id: number }>("/api/renders", json("POST", order)),
  removeRender: (id: number) => call(`/api/renders/${id}`, { method: "DELETE" }),
  cancelRender: (id: number) => call(`/api/renders/${id}/cancel`, { method: "POST" }),
  encodings: () => call<ListedEncoding[]>("/api/encodings"),
  encoding: (id: string) => call<MadeEncoding>(`/api/encodings/${id}`),
  keepEncoding: (body: MadeEncoding) => call("/api/encodings", json("PUT", body)),
  removeEncoding: (id: string) => call(`/api/encodings/${id}`, { method: "DELETE" }),
  ramp: (encoding: string) =>
    call<{ family: string; codes: number[]; light: number[] }>(`/api/encodings/${encoding}/ramp`),
  tables: () => call<{ id: string; name: string; file: string }[]>("/api/tables"),
  table: (id: string) => call<PlainTransform>(`/api/tables/${id}`),
  keepTable: (file: string, text: string) =>
    call<{ id: string; name: string; file: string }>("/api/tables", json("PUT", { file, text })),
  removeTable: (id: string) => call(`/api/tables/${id}`, { method: "DELETE" }),
  readCorrections: (file: string, text: string) => call<Correction[]>("/api/corrections", json("POST", { file, text })),
  writeCorrections: (kind: "ccc" | "cdl", corrections: Correction[]) =>
    call<{ text: string }>("/api/corrections", json("PUT", { kind, corrections })),
  offer: (batch: string, files: { path: string; size: number; sha256?: string }[]) =>
    call<{ path: string; received: number }[]>(`/api/intake/${batch}/offer`, json("POST", files)),
  send: (batch: string, path: string, at: number, size: number, body: Blob, signal: AbortSignal) =>
    call(`/api/intake/${batch}/files/${path.split("/").map(encodeURIComponent).join("/")}?at=${at}&size=${size}`, {
      method: "PUT",
      body,
      signal,
    }),
  finding: (batch: string) => call<Finding>(`/api/intake/${batch}`),
  takeIn: (batch: string, decisions: Decision[]) => call<TakenIn>(`/api/intake/${batch}`, json("POST", decisions)),
  leave: (batch: string) => call(`/api/intake/${batch}`, { method: "DELETE" }),
  footageRoots: () => call<{ roots: string[] }>("/api/intake-folder"),
  folderFinding: (folder: string) => call<Finding>("/api/intake-folder", json("POST", { folder })),
  takeInFolder: (folder: string, decisions: Decision[]) =>
    call<TakenIn>("/api/intake-folder", json("PUT", { folder, decisions })),
};
