"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { carried } from "@/core/look/carry";
import { withElements } from "@/core/look/edit";
import type { ListedStill } from "@/contract/stills";
import { commitLater } from "../shot/document";
import { setView, useView } from "../view/store";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { fetchKeptLook } from "./kept-look";
import { keepStill } from "./keep-still";
import { useShelf } from "./use-shelf";

function StillCard({ still, onChanged }: { still: ListedStill; onChanged(): void }) {
  const { shots, look } = useShelf();
  const { compare } = useView("compare");
  const { id, shotId, frame, note, madeBy } = still;
  const shot = shots.find((entry) => entry.id === shotId);
  const name = `${shot?.name ?? shotId}, frame ${frame}`;
  const { where: _, when: __, ...bare } = withElements(look, []);
  return (
    <li className="flex flex-col gap-1 border-t border-line pt-2 [content-visibility:auto]">
      <div
        title="Point at it to see it in the picture"
        onPointerEnter={() => setView({ preview: { look: bare, still: id, name: `The still of ${name}` } })}
        onPointerLeave={() => setView({ preview: null })}
      >
        <img
          src={`/api/stills/${id}/picture?format=jpg&width=400`}
          alt={`Still of ${name}`}
          loading="lazy"
          draggable={false}
          className="aspect-video w-full bg-black object-contain"
        />
      </div>
      <p className="flex gap-2">
        <span className="min-w-0 flex-1 truncate">{name}</span>
        {madeBy && <span className="truncate text-quiet">by {madeBy}</span>}
        <span className="figures text-quiet">{id}</span>
      </p>
      <input
        className="min-w-0 rounded bg-transparent px-1 text-quiet hover:bg-base-300 focus:bg-base-300"
        aria-label={`Note on still ${id}`}
        placeholder="A note"
        defaultValue={note}
        maxLength={4000}
        onBlur={(event) => {
          if (event.target.value === note) return;
          api
            .noteStill(id, event.target.value)
            .catch((error: Error) => toast.error(error.message))
            .then(onChanged);
        }}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            setView({ preview: null, compare: { ...compare, reference: { kind: "still", id }, way: compare.last } })
          }
        >
          Compare
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => {
            const change = commitLater();
            fetchKeptLook({ in: "still", id }).then(
              (own) => change((now) => carried(own, now, "all", "instead")),
              (error: Error) => toast.error(error.message),
            );
          }}
        >
          Put on its look
        </button>
        <a className="btn btn-xs" href={`/api/stills/${id}/picture?format=png`} download>
          PNG
        </a>
        <a className="btn btn-xs" href={`/api/stills/${id}/picture?format=exr`} download>
          EXR
        </a>
        <ConfirmButton
          label="Remove"
          name={`Remove still ${id}`}
          ask={() => Promise.resolve(`Remove the still of ${name}?`)}
          confirm="Remove it"
          onConfirm={() => api.removeStill(id).then(onChanged)}
        />
      </div>
    </li>
  );
}

/** Kept pictures of the production's shots: to hold the picture against, to take the look of, to hand on. */
export function StillsShelf() {
  const { shot, beside } = useShelf();
  const client = useQueryClient();
  const [ownOnly, setOwnOnly] = useState(false);
  const stills = useQuery({ queryKey: ["stills"], queryFn: api.stills });
  const from = ownOnly ? [shot] : beside;
  const shown = (stills.data ?? []).filter(({ shotId }) => from.some(({ id }) => id === shotId));
  const refresh = () => void client.invalidateQueries({ queryKey: ["stills"] });
  return (
    <>
      <div className="flex items-center gap-2">
        <button type="button" className="btn btn-xs btn-primary" onClick={() => void keepStill(shot.id)}>
          Keep a still
        </button>
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={ownOnly}
            onChange={(event) => setOwnOnly(event.target.checked)}
          />
          of this shot only
        </label>
      </div>
      {stills.isError && <p role="alert">The stills could not be looked up: {stills.error.message}.</p>}
      {stills.data && !shown.length && (
        <p className="text-quiet">
          No still is kept yet. P keeps the frame on the Bench with its look, whatever is open.
        </p>
      )}
      <ul className="flex flex-col gap-2">
        {shown.map((still) => (
          <StillCard key={still.id} still={still} onChanged={refresh} />
        ))}
      </ul>
    </>
  );
}
