"use client";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "next/navigation";
import { useState } from "react";
import type { Profile } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { useProductionTitle } from "../shared/production";
import { FilterSheet } from "./filter-sheet";
import { LensSheet } from "./lens-sheet";

const SPARK = { width: 120, height: 26 };

/** A profile's most telling curve, small: relative illumination of a lens, spread of a filter. */
function Spark({ profile }: { profile: Profile }) {
  const table = profile.format === "pale-halo-lens" ? profile.illumination?.[0] : undefined;
  const [xs, ys] =
    profile.format === "pale-halo-lens"
      ? [table?.heights ?? [], table?.relative ?? []]
      : [
          profile.grades[0]!.spread.degrees.slice(1).map(Math.log),
          profile.grades[0]!.spread.green.slice(1).map((value) => Math.log(Math.max(value, 1e-9))),
        ];
  if (xs.length < 2) return <span className="w-[120px]" />;
  const span = (values: number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [[x0, x1], [y0, y1]] = [span(xs), span(ys)];
  const points = xs
    .map(
      (x, i) =>
        `${((x - x0) / (x1 - x0)) * SPARK.width},${SPARK.height - 2 - ((ys[i]! - y0) / (y1 - y0 || 1)) * (SPARK.height - 4)}`,
    )
    .join(" ");
  return (
    <svg {...SPARK} aria-hidden>
      <polyline points={points} fill="none" stroke="#cfcfcf" strokeWidth="1.3" />
    </svg>
  );
}

/** Lenses and filters, each with its data sheet. */
export function CabinetView() {
  const profiles = useQuery({ queryKey: ["profiles"], queryFn: api.profiles, staleTime: Infinity });
  const query = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(query.get("profile"));
  useProductionTitle();
  const choose = (id: string) => {
    setChosen(id);
    window.history.replaceState(null, "", `/cabinet?profile=${id}`);
  };
  const all = profiles.data ?? [];
  const profile = all.find(({ id }) => id === chosen) ?? all.find(({ format }) => format === "pale-halo-lens");
  const shelf = (label: string, format: Profile["format"]) => (
    <section className="mb-4">
      <h2 className="mb-1 text-quiet">{label}</h2>
      <ul className="flex flex-col gap-1">
        {all
          .filter((entry) => entry.format === format)
          .map((entry) => (
            <li key={entry.id}>
              <button
                type="button"
                aria-pressed={entry.id === profile?.id}
                onClick={() => choose(entry.id)}
                className={`flex w-full items-center justify-between gap-2 rounded-md px-2 py-1 text-left ${entry.id === profile?.id ? "halo" : "hover:bg-base-200"}`}
              >
                <span>{entry.name}</span>
                <Spark profile={entry} />
              </button>
            </li>
          ))}
      </ul>
    </section>
  );
  return (
    <div className="grid h-full grid-cols-[290px_minmax(0,1fr)]">
      <aside aria-label="Glass" className="overflow-y-auto border-r border-line p-3">
        {shelf("Lenses", "pale-halo-lens")}
        {shelf("Filters", "pale-halo-filter")}
      </aside>
      <article className="overflow-y-auto p-4">
        {profile && (
          <>
            <header className="mb-2">
              <h1 className="text-lg font-semibold">{profile.name}</h1>
              <p className="text-quiet">
                {profile.notes}{" "}
                {profile.format === "pale-halo-lens" && profile.imageCircle
                  ? `Image circle ${profile.imageCircle} mm, squeeze ${profile.squeeze}×.`
                  : ""}
              </p>
            </header>
            {profile.format === "pale-halo-lens" ? (
              <LensSheet key={profile.id} lens={profile} />
            ) : (
              <FilterSheet key={profile.id} filter={profile} />
            )}
          </>
        )}
        {profiles.isError && <p role="alert">{profiles.error.message}</p>}
      </article>
    </div>
  );
}
