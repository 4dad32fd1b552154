"use client";
import { useMutation } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import type { ShotWith } from "@/contract/cabinet";
import { api, Refused } from "../shared/api";
import { useRefreshedCabinet } from "./refresh";
import { ShotWithInputs, useShotWith } from "./shot-with";

const DEFAULT_FOCAL = 50;

interface Told {
  problems?: string[];
  lacks?: (keyof ShotWith)[];
}

/** What the server said of a file that it did not take: its problems, or what it does not say of its pictures. */
const toldBy = (error: Error): Told => (error instanceof Refused ? (error.more as Told) : {});

/** A file to import, what it does not say of its pictures, and what is wrong with it. */
export function ImportProfile({ onImported }: { onImported(id: string): void }) {
  const input = useRef<HTMLInputElement>(null);
  const refresh = useRefreshedCabinet();
  const [file, setFile] = useState<File | null>(null);
  const [fields, setFields] = useShotWith(DEFAULT_FOCAL);
  const read = useMutation({
    mutationFn: async ({ file: chosen, shot }: { file: File; shot: ShotWith }) =>
      api.keepProfile(await api.readProfileFile(chosen, shot)),
    onSuccess: async ({ profile }) => {
      setFile(null);
      await refresh();
      onImported(profile.id);
    },
    onError: () => {},
  });
  const take = (chosen: File | undefined) => {
    if (!chosen) return;
    setFile(chosen);
    read.mutate({ file: chosen, shot: {} });
  };
  const { problems, lacks } = read.error ? toldBy(read.error) : {};
  const wants = lacks && [...lacks, ...(/\.exr$/i.test(file?.name ?? "") ? (["inverse"] as const) : [])];
  return (
    <div className="mb-2">
      <input
        ref={input}
        type="file"
        accept=".json,.csv,.yaml,.yml,.exr"
        hidden
        aria-label="A profile to import"
        onChange={(event) => {
          take(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <button
        type="button"
        className="btn btn-xs w-full"
        disabled={read.isPending}
        title="Profiles and radial polynomials (JSON), tables (CSV), camera calibrations (YAML, JSON), distortion maps (EXR)"
        onClick={() => input.current?.click()}
      >
        <FileUp size={12} /> {read.isPending ? `Reading ${file?.name}` : "Import a file"}
      </button>
      {read.error && file && (
        <div role="alert" className="mt-2 max-h-60 overflow-y-auto rounded-md border border-line p-2">
          {wants ? (
            <form
              aria-label="What the file does not say"
              className="flex flex-wrap items-center gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                read.mutate({ file, shot: Object.fromEntries(wants.map((name) => [name, fields[name]])) });
              }}
            >
              <p className="w-full">
                {file.name}: {read.error.message}
              </p>
              <ShotWithInputs wants={wants} fields={fields} onChange={setFields} />
              <button type="submit" className="btn btn-xs">
                Read it
              </button>
            </form>
          ) : (
            <>
              <p>{file.name} is no profile:</p>
              <ul className="text-warning">
                {(problems ?? [read.error.message]).map((words) => (
                  <li key={words}>{words}</li>
                ))}
              </ul>
            </>
          )}
          <button type="button" className="btn btn-xs mt-1" onClick={() => setFile(null)}>
            Close
          </button>
        </div>
      )}
    </div>
  );
}
