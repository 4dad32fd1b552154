"use client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { toast } from "sonner";
import { takenOver } from "@/core/look/carry";
import { differences } from "@/core/look/differences";
import type { ListedVersion } from "@/contract/versions";
import { commit } from "../shot/document";
import { setView, useView } from "../view/store";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { DifferencesList } from "./differences-list";
import { useKeptLook } from "./kept-look";
import { LookPicture } from "./look-picture";
import { useShelf } from "./use-shelf";

const count = (of: number) => (of === 0 ? "As it is now" : of === 1 ? "1 thing differs" : `${of} things differ`);

function VersionCard({ version, onChanged }: { version: ListedVersion; onChanged(): void }) {
  const { shot, look, names, orderOf, stretch } = useShelf();
  const { compare } = useView("compare");
  const [open, setOpen] = useState(false);
  const [isSeen, setSeen] = useState(false);
  const { id, number, name, note, madeBy } = version;
  const body = useKeptLook({ in: "version", shotId: shot.id, id }, isSeen);
  const seen = useMemo(() => body && { ...body, view: look.view }, [body, look.view]);
  const differs = useMemo(() => body && differences(body, look, names), [body, look, names]);
  const { mutate: put } = useMutation({
    mutationFn: (what: { name?: string; note?: string }) => api.changeVersion(shot.id, version, what),
    onSettled: onChanged,
  });
  const preview = () => seen && setView({ preview: { look: seen, name: `Version ${number}, ${name}` } });
  return (
    <li className="grid grid-cols-[7.5rem_1fr] gap-2 border-t border-line pt-2">
      <div
        onPointerEnter={preview}
        onPointerLeave={() => setView({ preview: null })}
        title="Point at it to see it in the picture"
      >
        <LookPicture
          order={seen ? orderOf(seen) : null}
          onSeen={() => setSeen(true)}
          width={shot.footage.width}
          stretch={stretch}
          label={`Version ${number} on this frame`}
        />
      </div>
      <div className="flex min-w-0 flex-col gap-1">
        <div className="flex items-center gap-1">
          <span className="figures text-quiet">{number}</span>
          <input
            className="min-w-0 flex-1 rounded bg-transparent px-1 hover:bg-base-300 focus:bg-base-300"
            aria-label={`Name of version ${number}`}
            defaultValue={name}
            maxLength={120}
            onBlur={(event) => {
              const next = event.target.value.trim();
              if (next && next !== name) void put({ name: next });
            }}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
        </div>
        <input
          className="min-w-0 rounded bg-transparent px-1 text-quiet hover:bg-base-300 focus:bg-base-300"
          aria-label={`Note on version ${number}`}
          placeholder="A note"
          defaultValue={note}
          maxLength={4000}
          onBlur={(event) => event.target.value !== note && void put({ note: event.target.value })}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        {madeBy && <span className="truncate px-1 text-quiet">by {madeBy}</span>}
        <button
          type="button"
          className="self-start px-1 text-left text-quiet underline-offset-2 hover:underline"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {differs ? count(differs.length) : "…"}
        </button>
      </div>
      {open && body && differs && (
        <div className="col-span-2">
          <DifferencesList differences={differs} onTake={(element) => commit((now) => takenOver(now, body, element))} />
        </div>
      )}
      <div className="col-span-2 flex flex-wrap gap-1">
        <button type="button" className="btn btn-xs" disabled={!body} onClick={() => commit(() => body!)}>
          Return to it
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => setView({ compare: { ...compare, reference: { kind: "version", id }, way: compare.last } })}
        >
          Compare
        </button>
        <ConfirmButton
          label="Remove"
          name={`Remove version ${number}`}
          ask={() => Promise.resolve(`Remove version ${number}, “${name}”?`)}
          confirm="Remove it"
          onConfirm={() => api.removeVersion(shot.id, id).then(onChanged)}
        />
      </div>
    </li>
  );
}

/** Kept looks of the shot, as pictures: keep one, name it, see what differs, return to one. */
export function VersionsShelf() {
  const { shot, look } = useShelf();
  const client = useQueryClient();
  const [name, setName] = useState("");
  const refresh = () => void client.invalidateQueries({ queryKey: ["shot", shot.id] });
  const keep = useMutation({
    mutationFn: () => api.keepVersion(shot.id, look, name.trim() || undefined),
    onSuccess: (version) => {
      setName("");
      toast(`Kept as ${version.name}`);
      refresh();
    },
  });
  return (
    <>
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <input
          className="input input-xs min-w-0 flex-1"
          aria-label="Name of the version"
          placeholder={`Version ${(shot.versions[0]?.number ?? 0) + 1}`}
          value={name}
          maxLength={120}
          onChange={(event) => setName(event.target.value)}
        />
        <button className="btn btn-xs btn-primary">Keep this look</button>
      </form>
      {!shot.versions.length && <p className="text-quiet">No version is kept yet.</p>}
      <ul className="flex flex-col gap-2">
        {shot.versions.map((version) => (
          <VersionCard key={version.id} version={version} onChanged={refresh} />
        ))}
      </ul>
    </>
  );
}
