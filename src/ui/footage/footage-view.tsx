"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp, FolderOpen, LayoutGrid, List, Search } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { api } from "../shared/api";
import { useEncodingLabel } from "../shared/encodings";
import { enterProduction, shotTitle, useShots } from "../shared/production";
import { ContactSheet } from "./contact-sheet";
import { EncodingMaker } from "./encodings/encoding-maker";
import { chosenFiles, droppedFiles } from "./intake/files";
import { Intake, type Origin } from "./intake/intake";
import { ShotList } from "./shot-list";
import { ShotPanel } from "./shot-panel";
import type { Shot } from "../../contract/shots";

/** Names a folder under the footage roots, whose frames are used where they lie. */
function FolderForm({ onOpen }: { onOpen(path: string): void }) {
  const roots = useQuery({ queryKey: ["footage-roots"], queryFn: api.footageRoots });
  const [path, setPath] = useState("");
  if (!roots.data) return null;
  if (!roots.data.roots.length)
    return (
      <p className="mb-3 rounded-md border border-line bg-base-200 p-3 text-quiet">
        To use footage where it lies, start the application with HALO_FOOTAGE set to the folders it may read, separated
        by colons.
      </p>
    );
  return (
    <form
      className="mb-3 flex items-center gap-2 rounded-md border border-line bg-base-200 p-3"
      onSubmit={(event) => {
        event.preventDefault();
        onOpen(path.trim());
      }}
    >
      <label className="flex flex-1 items-center gap-2">
        Folder
        <input
          className="input input-sm figures flex-1"
          list="footage-roots"
          value={path}
          onChange={(event) => setPath(event.target.value)}
          placeholder={roots.data.roots[0]}
          required
        />
      </label>
      <datalist id="footage-roots">
        {roots.data.roots.map((root) => (
          <option key={root} value={root} />
        ))}
      </datalist>
      <button type="submit" className="btn btn-sm">
        Look into it
      </button>
    </form>
  );
}

function useSelection(shots: Shot[]) {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const select = (id: string, more: boolean) =>
    setIds((before) => {
      if (!more) return before.size === 1 && before.has(id) ? new Set() : new Set([id]);
      const next = new Set(before);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  return { ids, select, setIds, shots: shots.filter(({ id }) => ids.has(id)) };
}

/** An empty data folder is a beginning: what to do first, and the demo for whoever only wants to look. */
function Beginning({ onFiles, onFolder, onDemo }: { onFiles(): void; onFolder(): void; onDemo(): void }) {
  const [isOpening, setOpening] = useState(false);
  const open = () => {
    setOpening(true);
    api
      .openDemo()
      .then(({ production }) => {
        enterProduction(production);
        onDemo();
      })
      .catch((error: Error) => toast.error(error.message))
      .finally(() => setOpening(false));
  };
  return (
    <section aria-label="How to begin" className="mx-auto mt-16 flex max-w-lg flex-col gap-3 text-center">
      <h2 className="text-lg font-semibold">Begin with footage</h2>
      <p>
        Drop frames, a folder or a movie anywhere on this page. What was found is said before it is taken in: frames,
        gaps, size, depth, and how it seems to be encoded.
      </p>
      <div className="flex justify-center gap-2">
        <button type="button" className="btn btn-sm btn-primary" onClick={onFiles}>
          Choose files
        </button>
        <button type="button" className="btn btn-sm" onClick={onFolder}>
          Name a folder
        </button>
        <button type="button" className="btn btn-sm" disabled={isOpening} onClick={open}>
          {isOpening ? "Opening the demo …" : "Open the demo production"}
        </button>
      </div>
    </section>
  );
}

/** Footage that is being computed is looked at every so often, ms. */
const whileComputed = (shots: readonly Shot[]) => (shots.some(({ progress }) => progress < 1) ? 1500 : false);

/** Shots, and everything that brings them in and says what they are. Files dropped anywhere are looked at. */
export function FootageView() {
  const client = useQueryClient();
  const shots = useShots(whileComputed);
  const [origin, setOrigin] = useState<Origin | null>(null);
  const [form, setForm] = useState<"folder" | "encoding" | null>(null);
  const [over, setOver] = useState(false);
  const [layout, setLayout] = useState<"sheet" | "list">("sheet");
  const [withLooks, setWithLooks] = useState(false);
  const [words, setWords] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const encodingLabel = useEncodingLabel();
  const formats = useQuery({ queryKey: ["formats"], queryFn: api.formats, staleTime: Infinity });
  const found = useMemo(() => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    return (shots.data ?? []).filter((shot) => {
      const text = [shotTitle(shot), shot.footage.format, encodingLabel(shot.encoding), shot.encoding, shot.notes]
        .join(" ")
        .toLowerCase();
      return wanted.every((word) => text.includes(word));
    });
  }, [shots.data, words, encodingLabel]);
  const { ids, select, setIds, shots: selected } = useSelection(shots.data ?? []);
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ["productions"] });
    return client.invalidateQueries({ queryKey: ["shots"] });
  };
  const open = (next: Origin) => {
    setForm(null);
    setOrigin(next);
  };
  const switchButton = (kind: typeof layout, label: string, icon: React.ReactNode) => (
    <button
      type="button"
      className={`btn btn-sm btn-square join-item ${layout === kind ? "btn-primary" : ""}`}
      aria-label={label}
      aria-pressed={layout === kind}
      onClick={() => setLayout(kind)}
    >
      {icon}
    </button>
  );
  return (
    <div
      className={`grid h-full ${selected.length ? "grid-cols-[minmax(0,1fr)_minmax(390px,32%)]" : "grid-cols-1"} ${over ? "outline-2 -outline-offset-4 outline-halo" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event).then((files) => files.length && open({ kind: "files", files }));
      }}
    >
      <div className="min-h-0 overflow-y-auto p-4">
        <div className="mb-3 flex items-center gap-2">
          <h1 className="text-lg font-semibold">Footage</h1>
          <label className="input input-sm ml-2 w-52">
            <Search size={13} aria-hidden />
            <input
              type="search"
              aria-label="Search shots"
              placeholder="Search names and notes"
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          </label>
          <div role="group" aria-label="Arrangement" className="join">
            {switchButton("sheet", "Contact sheet", <LayoutGrid size={14} />)}
            {switchButton("list", "List", <List size={14} />)}
          </div>
          <button
            type="button"
            className={`btn btn-sm ${withLooks ? "halo" : ""}`}
            aria-pressed={withLooks}
            disabled={layout === "list"}
            title="Every shot with the look it wears"
            onClick={() => setWithLooks(!withLooks)}
          >
            With their looks
          </button>
          <button
            type="button"
            className="btn btn-sm"
            disabled={!found.length}
            onClick={() => setIds(ids.size ? new Set() : new Set(found.map(({ id }) => id)))}
          >
            {ids.size ? "Select none" : "Select all"}
          </button>
          <span className="ml-auto" />
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => setForm(form === "encoding" ? null : "encoding")}
            aria-expanded={form === "encoding"}
          >
            Encodings
          </button>
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => setForm(form === "folder" ? null : "folder")}
            aria-expanded={form === "folder"}
          >
            <FolderOpen size={14} /> Name a folder
          </button>
          <button type="button" className="btn btn-sm" onClick={() => input.current?.click()}>
            <FileUp size={14} /> Choose files
          </button>
          <input
            ref={input}
            type="file"
            multiple
            className="sr-only"
            tabIndex={-1}
            aria-label="Files to take in"
            onChange={(event) => {
              if (event.target.files?.length) open({ kind: "files", files: chosenFiles(event.target.files) });
              event.target.value = "";
            }}
          />
        </div>
        {form === "folder" && <FolderForm onOpen={(path) => open({ kind: "folder", path })} />}
        {form === "encoding" && <EncodingMaker onClose={() => setForm(null)} />}
        {origin && (
          <Intake
            key={JSON.stringify([
              origin.kind,
              origin.kind === "folder" ? origin.path : origin.files.map(({ path }) => path),
            ])}
            origin={origin}
            onClose={() => setOrigin(null)}
            onTaken={() => void refresh()}
          />
        )}
        {shots.error && <p role="alert">{shots.error.message}</p>}
        {layout === "sheet" ? (
          <ContactSheet shots={found} selected={ids} withLooks={withLooks} onSelect={select} />
        ) : (
          <ShotList shots={found} selected={ids} onSelect={select} />
        )}
        {found.length === 0 && words && <p className="mt-4 text-quiet">No shot has all these words.</p>}
        {shots.data?.length === 0 && !origin && (
          <Beginning
            onFiles={() => input.current?.click()}
            onFolder={() => setForm("folder")}
            onDemo={() => void refresh()}
          />
        )}
        <p className="mt-4 text-quiet">
          Drop stills, numbered sequences, folders or movies anywhere: EXR, DPX, TIFF, PNG, JPEG, Y4M;{" "}
          {formats.data?.movies
            ? "MOV, MP4, MXF, MKV, WebM, AVI and TS, whatever they are coded in: ffmpeg reads them, and they stay as they are."
            : "MP4, MOV, WebM and MKV in what this browser decodes. With ffmpeg on the server, ProRes, DNxHR and every other coding too."}
        </p>
      </div>
      {selected.length > 0 && (
        <ShotPanel
          key={selected.map(({ id }) => id).join()}
          shots={selected}
          onChanged={() => void refresh()}
          onMakeEncoding={() => setForm("encoding")}
        />
      )}
    </div>
  );
}
