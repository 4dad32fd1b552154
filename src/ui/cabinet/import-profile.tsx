"use client";
import { useMutation } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef, useState } from "react";
import type { ShotWith } from "@/contract/cabinet";
import { api } from "../shared/api";
import { useRefreshedCabinet } from "./refresh";
import { ShotWithInputs, useShotWith } from "./shot-with";

const DEFAULT_FOCAL = 50;

/** Fields that a file leaves open, and those that may be said beside them. */
const wantsOf = (lacks: readonly (keyof ShotWith)[], file: File) =>
  /\.exr$/i.test(file.name) ? [...lacks, "inverse" as const] : lacks;

/** A file to import, what it does not say of its pictures, and what is wrong with it. */
export function ImportProfile({ onImported }: { onImported(id: string): void }) {
  const input = useRef<HTMLInputElement>(null);
  const refresh = useRefreshedCabinet();
  const [file, setFile] = useState<File | null>(null);
  const [fields, setFields] = useShotWith(DEFAULT_FOCAL);
  const read = useMutation({
    meta: { showsItsError: true },
    mutationFn: async ({ file: chosen, shot }: { file: File; shot: ShotWith }) => {
      const reading = await api.readProfileFile(chosen, shot);
      return "profile" in reading ? api.keepProfile(reading.profile) : reading;
    },
    onSuccess: async (kept) => {
      if (!("profile" in kept)) return;
      setFile(null);
      await refresh();
      onImported(kept.profile.id);
    },
  });
  const take = (chosen: File | undefined) => {
    if (!chosen) return;
    setFile(chosen);
    read.mutate({ file: chosen, shot: {} });
  };
  const answer = read.data;
  const asked = answer && "lacks" in answer ? answer : null;
  const wants = asked && file ? wantsOf(asked.lacks, file) : [];
  const problems = answer && "problems" in answer ? answer.problems : read.error ? [read.error.message] : [];
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
      {file && asked && (
        <form
          aria-label="What the file does not say"
          className="mt-2 flex flex-col gap-1.5 rounded-md border border-line p-2"
          onSubmit={(event) => {
            event.preventDefault();
            read.mutate({ file, shot: Object.fromEntries(wants.map((name) => [name, fields[name]])) });
          }}
        >
          <p role="alert">
            {file.name}: {asked.what}
          </p>
          <ShotWithInputs wants={wants} fields={fields} onChange={setFields} />
          <div className="flex gap-2">
            <button type="submit" className="btn btn-xs" disabled={read.isPending}>
              Read it
            </button>
            <button type="button" className="btn btn-xs" onClick={() => setFile(null)}>
              Close
            </button>
          </div>
        </form>
      )}
      {file && problems.length > 0 && (
        <div role="alert" className="mt-2 max-h-60 overflow-y-auto rounded-md border border-line p-2">
          <p>{file.name} is no profile:</p>
          <ul className="text-warning">
            {problems.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setFile(null)}>
            Close
          </button>
        </div>
      )}
    </div>
  );
}
