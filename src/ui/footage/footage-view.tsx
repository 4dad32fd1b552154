"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FolderOpen } from "lucide-react";
import Link from "next/link";
import { type DragEvent, useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { ENCODINGS } from "@/core/colour/encodings";
import { api, type Shot } from "../shared/api";
import { useWorkspace } from "../shared/workspace";

const MEGABYTE = 2 ** 20;

function ShotCard({ shot, onChange }: { shot: Shot; onChange(): void }) {
  const ready = shot.progress > 0.99;
  const { frames, width, height, format, depth } = shot.footage;
  const save = (change: Parameters<typeof api.changeShot>[1]) => api.changeShot(shot.id, change).then(onChange, (error: Error) => toast.error(error.message));
  const size = (key: "sensorWidth" | "sensorHeight", label: string) => (
    <input
      type="number"
      className="figures w-16 rounded bg-base-300 px-1 text-right"
      aria-label={label}
      min={1}
      max={1000}
      step={0.1}
      defaultValue={shot[key]}
      onBlur={(event) => {
        const value = event.target.valueAsNumber;
        if (value > 0 && value <= 1000 && value !== shot[key]) void save({ [key]: value });
      }}
    />
  );
  return (
    <li className="overflow-hidden rounded-md border border-line bg-base-200">
      <Link href={`/bench/${shot.id}`} className="block" aria-label={`Open ${shot.name} on the Bench`}>
        {ready ? (
          <img src={`/api/shots/${shot.id}/thumbnail?encoding=${shot.encoding}`} alt={`A frame of ${shot.name}`} className="aspect-video w-full bg-black object-contain" />
        ) : (
          <div className="grid aspect-video place-items-center bg-[#101010] text-quiet">
            <span>
              Being computed, <span className="figures">{Math.round(100 * shot.progress)} %</span>
            </span>
          </div>
        )}
      </Link>
      <div className="flex flex-col gap-1.5 p-3">
        <p className="flex items-baseline gap-2">
          <Link href={`/bench/${shot.id}`} className="font-semibold">
            {shot.id.startsWith("TL-") ? `${shot.id} ` : ""}
            {shot.name}
          </Link>
          <span className="figures ml-auto text-quiet">{frames.length === 1 ? "still" : `${frames.length} frames, ${frames[0]} to ${frames.at(-1)}`}</span>
        </p>
        <p className="figures text-quiet">
          {width} × {height}, {format}, {depth === "u8" ? "8 bits" : depth === "u16" ? "16 bits" : depth}
        </p>
        <label className="grid grid-cols-[5rem_1fr] items-center">
          <span>Encoding</span>
          <select className="select select-xs w-full" value={shot.encoding} onChange={(event) => void save({ encoding: event.target.value as Shot["encoding"] })}>
            {ENCODINGS.map(({ name, label }) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <p className="grid grid-cols-[5rem_1fr] text-quiet">
          <span />
          <span>{shot.encodingReason}</span>
        </p>
        <p className="grid grid-cols-[5rem_1fr] items-center">
          <span>Sensor</span>
          <span className="flex items-center gap-1">
            {size("sensorWidth", "Sensor width, mm")} × {size("sensorHeight", "Sensor height, mm")} mm
          </span>
        </p>
      </div>
    </li>
  );
}

interface Found {
  file: File;
  state: "waiting" | "sending" | "good" | "bad";
  says: string;
}

/** Everything dropped, folders opened. */
async function droppedFiles(event: DragEvent): Promise<File[]> {
  const entries = [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry?.()).filter((entry) => entry != null);
  if (!entries.length) return [...event.dataTransfer.files];
  const files: File[] = [];
  const walk = async (entry: FileSystemEntry): Promise<void> => {
    if (entry.isFile) files.push(await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)));
    else {
      const reader = (entry as FileSystemDirectoryEntry).createReader();
      for (let part = await read(reader); part.length; part = await read(reader)) for (const child of part) await walk(child);
    }
  };
  const read = (reader: FileSystemDirectoryReader) => new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
  for (const entry of entries) await walk(entry);
  return files;
}

/** Groups names as the server will, to say what was found before anything is taken in. */
function summary(found: Found[]): string[] {
  const groups = new Map<string, number[]>();
  for (const { file } of found) {
    const match = /^(.*?)(\d+)(\.[^.]+)$/.exec(file.name);
    const key = match ? `${match[1]}${"#".repeat(match[2]!.length)}${match[3]}` : file.name;
    groups.set(key, [...(groups.get(key) ?? []), match ? Number(match[2]) : 1]);
  }
  return [...groups].map(([name, frames]) => {
    if (frames.length === 1) return `${name.includes("#") ? found.find(({ file }) => file.name.replace(/\d/g, "#") === name.replace(/\d/g, "#"))!.file.name : name}: one file`;
    const [first, last] = [Math.min(...frames), Math.max(...frames)];
    const gaps = last - first + 1 - frames.length;
    return `${name}: ${frames.length} frames, ${first} to ${last}${gaps ? `, ${gaps} missing` : ""}`;
  });
}

function Intake({ files, onClose, onTaken }: { files: File[]; onClose(): void; onTaken(): void }) {
  const [found, setFound] = useState<Found[]>(() => files.map((file) => ({ file, state: "waiting", says: "" })));
  const [busy, setBusy] = useState(false);
  const take = async () => {
    setBusy(true);
    const batch = crypto.randomUUID();
    let good = 0;
    for (const [i, file] of files.entries()) {
      const mark = (state: Found["state"], says: string) => setFound((all) => all.map((entry, k) => (k === i ? { ...entry, state, says } : entry)));
      mark("sending", "reading …");
      try {
        const { width, height, encoding } = await api.receive(batch, file);
        mark("good", `${width} × ${height}, ${encoding}`);
        good++;
      } catch (error) {
        mark("bad", (error as Error).message);
      }
    }
    try {
      if (good) {
        const { shots, refused } = await api.takeIn(batch);
        for (const { name, reason } of refused) setFound((all) => all.map((entry) => (entry.file.name === name ? { ...entry, state: "bad", says: `${name}: ${reason}` } : entry)));
        toast(`${shots.length === 1 ? "One shot" : `${shots.length} shots`} taken in`);
      }
    } catch (error) {
      toast.error((error as Error).message);
    }
    setBusy(false);
    onTaken();
  };
  const done = found.every(({ state }) => state === "good" || state === "bad");
  const bad = found.filter(({ state }) => state === "bad");
  return (
    <section aria-label="What was found" className="mb-3 rounded-md border border-line bg-base-200 p-3">
      <h2 className="font-semibold">What was found</h2>
      <ul className="my-1 columns-2">
        {summary(found).map((line) => (
          <li key={line} className="figures">
            {line}
          </li>
        ))}
      </ul>
      <p className="figures text-quiet">
        {files.length} files, {(files.reduce((sum, { size }) => sum + size, 0) / MEGABYTE).toFixed(1)} MB
        {busy || done ? `; ${found.filter(({ state }) => state === "good").length} read, ${bad.length} refused` : ""}
      </p>
      {bad.length > 0 && (
        <ul role="alert" className="my-1 max-h-28 overflow-y-auto text-error">
          {bad.map(({ file, says }) => (
            <li key={file.name}>{says}</li>
          ))}
        </ul>
      )}
      <div className="mt-2 flex gap-2">
        {done ? null : (
          <button type="button" className="btn btn-sm btn-primary" disabled={busy} onClick={() => void take()}>
            {busy ? "Taking in …" : "Take in"}
          </button>
        )}
        <button type="button" className="btn btn-sm" disabled={busy} onClick={onClose}>
          {done ? "Close" : "Leave it"}
        </button>
      </div>
    </section>
  );
}

/** Shots as a contact sheet; files dropped anywhere are taken in. */
export function FootageView() {
  const client = useQueryClient();
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots, refetchInterval: ({ state }) => (state.data?.some(({ progress }) => progress < 1) ? 1500 : false) });
  const [files, setFiles] = useState<File[] | null>(null);
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const tell = useWorkspace((state) => state.set);
  useEffect(() => tell({ title: "Tarn Line" }), [tell]);
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ["shots"] });
    void client.invalidateQueries({ queryKey: ["shot"] });
  };
  return (
    <div
      className={`h-full overflow-y-auto p-4 ${over ? "outline-2 -outline-offset-4 outline-halo" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event).then((dropped) => dropped.length && setFiles(dropped));
      }}
    >
      <div className="mb-3 flex items-center gap-3">
        <h1 className="text-lg font-semibold">Footage</h1>
        <p className="text-quiet">Drop stills or numbered sequences anywhere: EXR, PNG, TIFF, JPEG.</p>
        <button type="button" className="btn btn-sm ml-auto" onClick={() => input.current?.click()}>
          <FolderOpen size={14} /> Choose files
        </button>
        <input ref={input} type="file" multiple className="sr-only" tabIndex={-1} aria-label="Files to take in" onChange={(event) => { if (event.target.files?.length) setFiles([...event.target.files]); event.target.value = ""; }} />
      </div>
      {files && <Intake key={files.map(({ name }) => name).join()} files={files} onClose={() => setFiles(null)} onTaken={refresh} />}
      {shots.isError && <p role="alert">{shots.error.message}</p>}
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(340px,1fr))] gap-4">
        {shots.data?.map((shot) => <ShotCard key={shot.id} shot={shot} onChange={refresh} />)}
      </ul>
      {shots.data?.length === 0 && <p className="text-quiet">No shots yet.</p>}
    </div>
  );
}
