import type { Correction } from "@/core/colour/correction";
import type { OwnEncoding } from "@/core/colour/own-encoding";
import type { PlainTransform } from "@/core/colour/transform/plain";
import type { Manifest } from "@/core/measure/manifest";
import type { Look } from "@/core/look/look";
import type { Profile } from "@/core/profile/profiles";
import type { CabinetEntry, ProfileFileReading, ProfileForm, ShotWith } from "@/contract/cabinet";
import type { BenchDayOffer } from "@/contract/charts";
import type { GreyRamp, ListedEncoding } from "@/contract/encodings";
import type { Delivery, KeptDelivery, QueueDelivery, RenderManifest } from "@/contract/deliveries";
import type { TableMade, TableWanted } from "@/contract/export";
import type { FormatsHere } from "@/contract/formats";
import type { Decision, Finding, Offer, Offered, Piece, TakenIn } from "@/contract/intake";
import type { Library, LibraryLook, LookSaved, LooksPut, CurrentLook } from "@/contract/looks";
import type { FarmStatus, RenderChange } from "../../contract/farm";
import type { ImportedProduction, ListedProduction, ProductionChange } from "@/contract/productions";
import type { FramesMade, ListedRender, RenderOrder } from "@/contract/renders";
import type { RecordedLensData, Shot, ShotChange, ShotDetail, ShotsChanged, Uses } from "@/contract/shots";
import type { Session } from "@/contract/people";
import type { ListedTable } from "@/contract/tables";
import type { ListedStill, Still, StillOrder } from "@/contract/stills";
import type { ListedVersion, Version } from "@/contract/versions";

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

const SESSION = "/api/session";
/** Where one signs in, to go on from here. */
const wayIn = () => `/sign-in?to=${encodeURIComponent(window.location.pathname + window.location.search)}`;

async function call<T>(path: string, options: RequestInit = {}): Promise<T> {
  const response = await fetch(path, options);
  const value = (await response.json()) as T & { error?: string };
  // A session that has ended is begun again, and leads back to where one was.
  if (response.status === 401 && path !== SESSION) window.location.assign(wayIn());
  if (!response.ok) throw new Refused(response.status, value.error ?? `The server answered ${response.status}`, value);
  return value;
}

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { "content-type": "application/json" },
  body: JSON.stringify(body),
});

/** What pictures were shot with, as an address has it. */
function shotQuery({ sensor, size, focalLength, inverse, unit }: ShotWith, more: Record<string, string>): string {
  const text = (of: { width: number; height: number }) => `${of.width}x${of.height}`;
  return new URLSearchParams({
    ...more,
    ...(sensor ? { sensor: text(sensor) } : {}),
    ...(size ? { size: text(size) } : {}),
    ...(focalLength ? { focalLength: String(focalLength) } : {}),
    ...(inverse ? { inverse: "1" } : {}),
    ...(unit ? { unit } : {}),
  }).toString();
}

/** The production that footage goes into; the server's choice where there is none yet. */
const into = (production: string | null) => (production ? `?production=${encodeURIComponent(production)}` : "");

export const api = {
  session: () => call<Session>("/api/session"),
  signIn: (name: string, passphrase: string) => call<Session>("/api/session", json("POST", { name, passphrase })),
  signOut: (everywhere: boolean) => call<Session>("/api/session", json("DELETE", { everywhere })),
  openDemo: () => call<{ production: string }>("/api/demo", { method: "POST" }),
  productions: () => call<ListedProduction[]>("/api/productions"),
  makeProduction: (name: string) => call<{ id: string; name: string }>("/api/productions", json("POST", { name })),
  changeProduction: (id: string, change: ProductionChange) =>
    call<ListedProduction>(`/api/productions/${encodeURIComponent(id)}`, json("PATCH", change)),
  usesOfProduction: (id: string) => call<Uses>(`/api/productions/${encodeURIComponent(id)}/uses`),
  removeProduction: (id: string) => call(`/api/productions/${encodeURIComponent(id)}`, { method: "DELETE" }),
  productionFile: (id: string) => `/api/productions/${encodeURIComponent(id)}/file`,
  importProduction: (file: File) =>
    call<ImportedProduction>(`/api/productions/files?file=${encodeURIComponent(file.name)}`, {
      method: "POST",
      headers: { "content-type": "application/zip" },
      body: file,
    }),
  shots: () => call<Shot[]>("/api/shots"),
  shot: (id: string) => call<ShotDetail>(`/api/shots/${id}`),
  /** Changes shots as they were seen; one that was changed since is not. `leaving`: the request outlives the page. */
  changeShots: (shots: Pick<Shot, "id" | "revision">[], change: ShotChange, leaving = false) =>
    call<ShotsChanged>("/api/shots", {
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
    call<LookSaved>(`/api/shots/${id}/look`, { ...json("PUT", { look, revision }), keepalive: leaving }),
  version: (id: string, version: number) => call<Version>(`/api/shots/${id}/versions/${version}`),
  keepVersion: (id: string, look: Look, name?: string, note?: string) =>
    call<ListedVersion>(`/api/shots/${id}/versions`, json("POST", { look, name, note })),
  changeVersion: (id: string, { id: version, revision }: ListedVersion, change: { name?: string; note?: string }) =>
    call<ListedVersion>(`/api/shots/${id}/versions/${version}`, json("PATCH", { ...change, revision })),
  removeVersion: (id: string, version: number) => call(`/api/shots/${id}/versions/${version}`, { method: "DELETE" }),
  exportTable: (id: string, wanted: TableWanted) => call<TableMade>(`/api/shots/${id}/table`, json("POST", wanted)),
  /** The look a shot wears now. */
  currentLook: (id: string) => call<CurrentLook>(`/api/shots/${id}/look`),
  library: () => call<Library>("/api/looks"),
  libraryLook: (id: string) => call<LibraryLook>(`/api/looks/${id}`),
  keepLook: (look: Look) => call<LibraryLook>("/api/looks", json("POST", { look })),
  changeLook: (id: string, look: Look, revision: number) =>
    call<LibraryLook>(`/api/looks/${id}`, json("PUT", { look, revision })),
  removeLook: (id: string) => call(`/api/looks/${id}`, { method: "DELETE" }),
  /** Puts looks on several shots, all or none, each in place of the one of its revision. */
  putLooks: (all: readonly CurrentLook[]) => call<LooksPut>("/api/looks/shots", json("PUT", all)),
  stills: () => call<ListedStill[]>("/api/stills"),
  still: (id: number) => call<Still>(`/api/stills/${id}`),
  keepStill: (order: StillOrder) => call<ListedStill>("/api/stills", json("POST", order)),
  noteStill: (id: number, note: string) => call<ListedStill>(`/api/stills/${id}`, json("PATCH", { note })),
  removeStill: (id: number) => call(`/api/stills/${id}`, { method: "DELETE" }),
  profiles: () => call<Profile[]>("/api/profiles"),
  benchDay: () => call<BenchDayOffer[]>("/api/bench-day"),
  beginBenchDay: (id: string) => call(`/api/bench-day/${id}`, { method: "POST" }),
  benchDayManifest: (id: string) => call<Manifest>(`/api/bench-day/${id}`),
  cabinet: () => call<CabinetEntry[]>("/api/cabinet"),
  keepProfile: (profile: Profile, copiedFrom: string | null = null) =>
    call<CabinetEntry>("/api/cabinet", json("POST", { profile, copiedFrom })),
  changeProfile: (profile: Profile, revision: number) =>
    call<CabinetEntry>(`/api/cabinet/${profile.id}`, json("PUT", { profile, revision })),
  /** The profile that a file holds; nothing is kept. Refused with `problems`, or with the fields it `lacks`. */
  readProfileFile: (file: File, shot: ShotWith) =>
    call<ProfileFileReading>(`/api/cabinet/files?${shotQuery(shot, { name: file.name })}`, {
      method: "POST",
      body: file,
    }),
  profileFile: async (id: string, form: ProfileForm, shot: ShotWith) => {
    const response = await fetch(`/api/cabinet/${id}/file?${shotQuery(shot, { form })}`);
    if (response.ok) return response.blob();
    throw new Refused(response.status, ((await response.json()) as { error: string }).error, {});
  },
  removeProfile: (id: string) => call(`/api/cabinet/${id}`, { method: "DELETE" }),
  renders: () => call<ListedRender[]>("/api/renders"),
  addRender: (order: RenderOrder) => call<{ id: number }>("/api/renders", json("POST", order)),
  renderAgain: (id: number) => call(`/api/renders/${id}/again`, { method: "POST" }),
  framesMade: (id: number) => call<FramesMade>(`/api/renders/${id}/frames`),
  renderManifest: (id: number) => call<RenderManifest>(`/api/renders/${id}/manifest`),
  deliveries: () => call<KeptDelivery[]>("/api/deliveries"),
  keepDelivery: (name: string, delivery: Delivery) =>
    call<KeptDelivery>("/api/deliveries", json("PUT", { name, delivery })),
  removeDelivery: (id: number) => call(`/api/deliveries/${id}`, { method: "DELETE" }),
  queueDelivery: (order: QueueDelivery) => call<{ ids: number[] }>("/api/deliveries/queue", json("POST", order)),
  removeRender: (id: number) => call(`/api/renders/${id}`, { method: "DELETE" }),
  changeRender: (id: number, change: RenderChange) => call(`/api/renders/${id}`, json("PATCH", change)),
  farm: () => call<FarmStatus>("/api/farm"),
  drainWorker: (id: string, isDraining: boolean) => call(`/api/farm/workers/${id}`, json("PATCH", { isDraining })),
  cancelRender: (id: number) => call(`/api/renders/${id}/cancel`, { method: "POST" }),
  formats: () => call<FormatsHere>("/api/formats"),
  encodings: () => call<ListedEncoding[]>("/api/encodings"),
  encoding: (id: string) => call<OwnEncoding>(`/api/encodings/${id}`),
  keepEncoding: (body: OwnEncoding) => call("/api/encodings", json("PUT", body)),
  removeEncoding: (id: string) => call(`/api/encodings/${id}`, { method: "DELETE" }),
  ramp: (encoding: string) => call<GreyRamp>(`/api/encodings/${encoding}/ramp`),
  tables: () => call<ListedTable[]>("/api/tables"),
  table: (id: string) => call<PlainTransform>(`/api/tables/${id}`),
  keepTable: (file: string, text: string) => call<ListedTable>("/api/tables", json("PUT", { file, text })),
  removeTable: (id: string) => call(`/api/tables/${id}`, { method: "DELETE" }),
  readCorrections: (file: string, text: string) => call<Correction[]>("/api/corrections", json("POST", { file, text })),
  writeCorrections: (kind: "cdl" | "ccc" | "cc", corrections: Correction[]) =>
    call<{ text: string }>("/api/corrections", json("PUT", { kind, corrections })),
  offer: (batch: string, files: Offer[]) => call<Offered[]>(`/api/intake/${batch}/offer`, json("POST", files)),
  send: (batch: string, path: string, { at, until, size }: Piece, body: Blob, signal: AbortSignal) => {
    const file = path.split("/").map(encodeURIComponent).join("/");
    return call(`/api/intake/${batch}/files/${file}?at=${at}&until=${until}&size=${size}`, {
      method: "PUT",
      body,
      signal,
    });
  },
  lensData: (id: string, signal?: AbortSignal) => call<RecordedLensData>(`/api/shots/${id}/lens-data`, { signal }),
  finding: (batch: string) => call<Finding>(`/api/intake/${batch}`),
  takeIn: (batch: string, decisions: Decision[], production: string | null) =>
    call<TakenIn>(`/api/intake/${batch}${into(production)}`, json("POST", decisions)),
  leave: (batch: string) => call(`/api/intake/${batch}`, { method: "DELETE" }),
  footageRoots: () => call<{ roots: string[] }>("/api/intake-folder"),
  folderFinding: (folder: string) => call<Finding>("/api/intake-folder", json("POST", { folder })),
  takeInFolder: (folder: string, decisions: Decision[], production: string | null) =>
    call<TakenIn>(`/api/intake-folder${into(production)}`, json("PUT", { folder, decisions })),
};
