"use client";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "next/navigation";
import { useState } from "react";
import type { FilterProfile, LensProfile, Profile } from "@/core/profile/profiles";
import type { CabinetEntry } from "../../contract/cabinet";
import { noteAddress } from "../shared/address";
import { api } from "../shared/api";
import { CabinetList } from "./cabinet-list";
import { FilterSheet } from "./filter-sheet";
import { ImportProfile } from "./import-profile";
import { LensSheet } from "./lens-sheet";
import { ProfileActions } from "./profile-actions";
import { SheetEditor } from "./sheet-editor";

/** What of a profile is told in words. */
function notesOf({ profile, copiedFrom, shipped, revision }: CabinetEntry, all: readonly CabinetEntry[]): string {
  const from = copiedFrom && (all.find((one) => one.profile.id === copiedFrom)?.profile.name ?? copiedFrom);
  const lens = profile.format === "pale-halo-lens" ? profile : null;
  return [
    profile.notes,
    lens?.imageCircle && `Image circle ${lens.imageCircle} mm, squeeze ${lens.squeeze}×.`,
    from && `Begun as a copy of ${from}.`,
    shipped ? "Ships with the application." : `Your own, revision ${revision}.`,
  ]
    .filter(Boolean)
    .join(" ");
}

/** Lenses and filters, each with its data sheet; one's own are edited here. */
export function CabinetView() {
  const cabinet = useQuery({ queryKey: ["cabinet"], queryFn: api.cabinet });
  const query = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(query.get("profile"));
  const [over, setOver] = useState<readonly string[]>([]);
  const [isEditing, setEditing] = useState(false);
  const [typed, setTyped] = useState<Profile | null>(null);
  const all = cabinet.data ?? [];
  const first = all.find(({ profile }) => profile.format === "pale-halo-lens") ?? all[0];
  const entry = all.find(({ profile }) => profile.id === chosen) ?? first;
  const choose = (id: string | null) => {
    setChosen(id);
    setEditing(false);
    setTyped(null);
    const other = all.find(({ profile }) => profile.id === id)?.profile.format;
    if (other !== entry?.profile.format) setOver([]);
    noteAddress(id ? `/cabinet?profile=${id}` : "/cabinet");
  };
  const layOver = (id: string) => setOver(over.includes(id) ? over.filter((one) => one !== id) : [...over, id]);
  const profile = typed ?? entry?.profile;
  const others = all
    .map((one) => one.profile)
    .filter(({ id, format }) => over.includes(id) && id !== profile?.id && format === profile?.format);
  return (
    <div className="grid h-full grid-cols-[300px_minmax(0,1fr)]">
      <aside aria-label="Glass" className="overflow-y-auto border-r border-line p-3">
        <ImportProfile onImported={choose} />
        <CabinetList entries={all} chosen={entry?.profile.id} over={over} onChoose={choose} onOver={layOver} />
      </aside>
      <article className="overflow-y-auto p-4">
        {entry && profile && (
          <>
            <header className="mb-2 flex flex-col gap-1">
              <h1 className="text-lg font-semibold">{profile.name}</h1>
              <p className="text-quiet">{notesOf(entry, all)}</p>
              <ProfileActions
                entry={entry}
                isEditing={isEditing}
                onEdit={(on) => {
                  setEditing(on);
                  setTyped(null);
                }}
                onChosen={choose}
              />
              {others.length > 0 && (
                <p className="text-quiet">Laid over it, broken lines: {others.map(({ name }) => name).join(", ")}</p>
              )}
            </header>
            {isEditing && !entry.shipped && (
              <SheetEditor key={`${entry.profile.id} ${entry.revision}`} entry={entry} onShown={setTyped} />
            )}
            {profile.format === "pale-halo-lens" ? (
              <LensSheet key={entry.profile.id} lens={profile} others={others as LensProfile[]} />
            ) : (
              <FilterSheet key={entry.profile.id} filter={profile} others={others as FilterProfile[]} />
            )}
          </>
        )}
        {cabinet.isError && <p role="alert">{cabinet.error.message}</p>}
      </article>
    </div>
  );
}
