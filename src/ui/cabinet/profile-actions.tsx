"use client";
import { useMutation } from "@tanstack/react-query";
import type { CabinetEntry } from "../../contract/cabinet";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { Between } from "./between";
import { ExportProfile } from "./export-profile";
import { PutOnBench } from "./put-on-bench";
import { useRefreshedCabinet } from "./refresh";

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
      {profile.format === "pale-halo-lens" && (
        <Between key={`between ${profile.id}`} lens={profile} onMade={onChosen} />
      )}
      <ExportProfile key={`export ${profile.id}`} profile={profile} />
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
