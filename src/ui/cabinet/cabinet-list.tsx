"use client";
import { Search } from "lucide-react";
import { useState } from "react";
import type { Profile } from "@/core/profile/profiles";
import type { CabinetEntry } from "../../contract/cabinet";

const SPARK = { width: 96, height: 24 };

/** A profile's most telling curve, small: relative illumination of a lens, or its contrast; spread of a filter. */
function sparkOf(profile: Profile): readonly [number[], number[]] {
  if (profile.format === "pale-halo-filter") {
    const { degrees, green } = profile.grades[0]!.spread;
    return [degrees.slice(1).map(Math.log), green.slice(1).map((value) => Math.log(Math.max(value, 1e-9)))];
  }
  const light = profile.illumination?.[0];
  if (light) return [light.heights, light.relative];
  const contrast = profile.mtf?.[0];
  return contrast ? [contrast.frequencies, contrast.sagittal[0]!] : [[], []];
}

function Spark({ profile }: { profile: Profile }) {
  const [xs, ys] = sparkOf(profile);
  if (xs.length < 2) return <span style={{ width: SPARK.width }} />;
  const span = (values: number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [[x0, x1], [y0, y1]] = [span(xs), span(ys)];
  const points = xs
    .map(
      (x, i) =>
        `${((x - x0) / (x1 - x0)) * SPARK.width},${SPARK.height - 2 - ((ys[i]! - y0) / (y1 - y0 || 1)) * (SPARK.height - 4)}`,
    )
    .join(" ");
  return (
    <svg {...SPARK} aria-hidden className="shrink-0">
      <polyline points={points} fill="none" stroke="#cfcfcf" strokeWidth="1.3" />
    </svg>
  );
}

const matches = ({ profile }: CabinetEntry, words: string) =>
  words
    .toLowerCase()
    .split(/\s+/)
    .every((word) => [profile.name, profile.set, profile.id, profile.notes].join(" ").toLowerCase().includes(word));

/** Entries by their set, in the order in which sets come; those of none under the kind's own name. */
function setsOf(entries: readonly CabinetEntry[], otherwise: string): [string, CabinetEntry[]][] {
  const sets = new Map<string, CabinetEntry[]>();
  for (const entry of entries) {
    const set = entry.profile.set ?? otherwise;
    sets.set(set, [...(sets.get(set) ?? []), entry]);
  }
  return [...sets];
}

/** Lenses and filters by set, searched; each with its most telling curve. */
export function CabinetList({
  entries,
  chosen,
  over,
  onChoose,
  onOver,
}: {
  entries: readonly CabinetEntry[];
  chosen: string | undefined;
  /** Ids of those laid over the chosen one. */
  over: readonly string[];
  onChoose(id: string): void;
  onOver(id: string): void;
}) {
  const [words, setWords] = useState("");
  const found = entries.filter((entry) => matches(entry, words));
  const format = entries.find(({ profile }) => profile.id === chosen)?.profile.format;
  const shelf = (label: string, kind: Profile["format"], otherwise: string) => (
    <section aria-label={label} className="mb-3">
      {setsOf(
        found.filter(({ profile }) => profile.format === kind),
        otherwise,
      ).map(([set, own]) => (
        <div key={set} className="mb-2">
          <h2 className="mb-0.5 text-quiet">{set}</h2>
          <ul className="flex flex-col gap-0.5">
            {own.map(({ profile, shipped }) => {
              const isChosen = profile.id === chosen;
              return (
                <li
                  key={profile.id}
                  className={`flex items-center gap-1 rounded-md ${isChosen ? "halo" : "hover:bg-base-200"}`}
                >
                  <button
                    type="button"
                    aria-pressed={isChosen}
                    onClick={() => onChoose(profile.id)}
                    className="flex min-w-0 flex-1 items-center justify-between gap-2 px-2 py-1 text-left"
                  >
                    <span className="min-w-0 truncate" title={profile.name}>
                      {profile.name}
                      {!shipped && <span className="text-quiet"> · own</span>}
                    </span>
                    <Spark profile={profile} />
                  </button>
                  <input
                    type="checkbox"
                    className="checkbox checkbox-xs mr-2"
                    aria-label={`Lay ${profile.name} over`}
                    title="Lay it over the one that is shown"
                    disabled={isChosen || profile.format !== format}
                    checked={over.includes(profile.id)}
                    onChange={() => onOver(profile.id)}
                  />
                </li>
              );
            })}
          </ul>
        </div>
      ))}
    </section>
  );
  return (
    <>
      <label className="input input-xs mb-2 flex w-full items-center gap-2">
        <Search size={12} />
        <input
          type="search"
          placeholder="Search"
          aria-label="Search the cabinet"
          value={words}
          onChange={({ target: { value } }) => setWords(value)}
        />
      </label>
      {shelf("Lenses", "pale-halo-lens", "Lenses of no set")}
      {shelf("Filters", "pale-halo-filter", "Filters")}
      {found.length === 0 && <p className="text-quiet">Nothing is called so.</p>}
    </>
  );
}
