"use client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { toCsv } from "@/core/profile/sheets/csv";
import type { CabinetEntry } from "../../contract/cabinet";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { saveFile } from "../shared/download";
import { PutOnBench } from "./put-on-bench";

/** What the engine and the lists know of profiles is asked for anew. */
export function useRefreshedCabinet(): () => Promise<void> {
  const client = useQueryClient();
  return async () => {
    await Promise.all([
      client.invalidateQueries({ queryKey: ["cabinet"] }),
      client.invalidateQueries({ queryKey: ["profiles"] }),
    ]);
  };
}

/** What is done with a profile. */
export function ProfileActions({
  entry,
  isEditing,
  onEdit,
  onChosen,
}: {
  entry: CabinetEntry;
  isEditing: boolean;
  onEdit(isEditing: boolean): void;
  /** Another profile is to be shown; null for none in particular. */
  onChosen(id: string | null): void;
}) {
  const { profile, shipped } = entry;
  const refresh = useRefreshedCabinet();
  const duplicate = useMutation({
    mutationFn: () => api.keepProfile({ ...profile, name: `${profile.name}, copy`.slice(0, 120) }, profile.id),
    onSuccess: async ({ profile: copy }) => {
      await refresh();
      onChosen(copy.id);
      onEdit(true);
    },
  });
  const remove = async () => {
    await api.removeProfile(profile.id);
    await refresh();
    onChosen(null);
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <PutOnBench profile={profile} />
      {shipped ? (
        <button type="button" className="btn btn-xs" disabled={duplicate.isPending} onClick={() => duplicate.mutate()}>
          Edit a copy
        </button>
      ) : (
        <>
          <button
            type="button"
            className={`btn btn-xs ${isEditing ? "btn-primary" : ""}`}
            aria-pressed={isEditing}
            onClick={() => onEdit(!isEditing)}
          >
            Edit
          </button>
          <button
            type="button"
            className="btn btn-xs"
            disabled={duplicate.isPending}
            onClick={() => duplicate.mutate()}
          >
            Duplicate
          </button>
        </>
      )}
      <button
        type="button"
        className="btn btn-xs"
        onClick={() => saveFile(`${profile.id}.json`, `${JSON.stringify(profile, null, 1)}\n`, "application/json")}
      >
        Export JSON
      </button>
      <button
        type="button"
        className="btn btn-xs"
        onClick={() => saveFile(`${profile.id}.csv`, toCsv(profile), "text/csv")}
      >
        Export CSV
      </button>
      {!shipped && (
        <ConfirmButton
          label="Remove"
          name={`Remove ${profile.name}`}
          ask={() => Promise.resolve(`“${profile.name}” goes for good, with its earlier revisions.`)}
          confirm="Remove it"
          onConfirm={remove}
        />
      )}
    </div>
  );
}
