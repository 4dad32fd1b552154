import type { Look } from "@/core/look/look";
import type { Profile } from "@/core/profile/profiles";
import type { Footage, Render, Shot as ShotRow, Version } from "@/store/queries";

/** What the server tells, as JSON: dates are text. */
type Told<T> = { [K in keyof T]: T[K] extends Date | null ? string | null : T[K] extends Date ? string : T[K] };

export type Shot = Told<ShotRow> & { footage: Told<Footage>; production: { id: string; name: string }; progress: number };
export type ShotDetail = Shot & { look: Look; versions: Told<Version>[] };
export type RenderRow = Told<Render>;
export type KeptVersion = Told<Version>;

async function call<T>(path: string, options: RequestInit = {}): Promise<T> {
  const response = await fetch(path, options);
  const value = (await response.json()) as T & { error?: string };
  if (!response.ok) throw new Error(value.error ?? `The server answered ${response.status}`);
  return value;
}

const json = (method: string, body: unknown): RequestInit => ({ method, headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

export const api = {
  shots: () => call<Shot[]>("/api/shots"),
  shot: (id: string) => call<ShotDetail>(`/api/shots/${id}`),
  changeShot: (id: string, change: Partial<Pick<Shot, "name" | "encoding" | "sensorWidth" | "sensorHeight">>) => call(`/api/shots/${id}`, json("PATCH", change)),
  /** `leaving`: the request outlives the page. */
  saveLook: (id: string, look: Look, leaving = false) => call(`/api/shots/${id}/look`, { ...json("PUT", look), keepalive: leaving }),
  keepVersion: (id: string, look: Look, name?: string) => call<KeptVersion>(`/api/shots/${id}/versions`, json("POST", { look, name })),
  renameVersion: (id: string, version: number, name: string) => call<KeptVersion>(`/api/shots/${id}/versions/${version}`, json("PATCH", { name })),
  profiles: () => call<Profile[]>("/api/profiles"),
  renders: () => call<RenderRow[]>("/api/renders"),
  addRender: (order: { shotId: string; versionName: string; look: Look; format: "exr" | "png"; depth: string; first: number; last: number }) => call<RenderRow>("/api/renders", json("POST", order)),
  cancelRender: (id: number) => call(`/api/renders/${id}/cancel`, { method: "POST" }),
  receive: (batch: string, file: File) => call<{ name: string; width: number; height: number; encoding: string; reason: string }>(`/api/intake/${batch}/${encodeURIComponent(file.name)}`, { method: "PUT", body: file }),
  takeIn: (batch: string) => call<{ shots: string[]; refused: { name: string; reason: string }[] }>(`/api/intake/${batch}`, { method: "POST" }),
};
