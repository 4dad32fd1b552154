"use client";
import { useQuery } from "@tanstack/react-query";
import type { Look } from "@/core/look/look";
import type { Cabinet } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { useBench } from "./store";

/** Looks to begin from: each puts its lens and its glass on the path; the view stays the shot's own. */
export function ReadyLooks({ look, cabinet }: { look: Look; cabinet: Cabinet }) {
  const { change } = useBench();
  const ready = useQuery({ queryKey: ["ready-looks"], queryFn: api.readyLooks, staleTime: Infinity });
  const offered = (ready.data ?? []).filter((entry) => cabinet.lenses.has(entry.look.lens.profile!));
  if (!offered.length) return null;
  return (
    <section aria-label="Looks to begin from" className="flex flex-col">
      <h3 className="border-b border-line pt-1 pb-1 font-semibold">Looks to begin from</h3>
      {offered.map(({ id, purpose, look: offer }) => (
        <button
          key={id}
          type="button"
          className="rounded px-1 py-1 text-left hover:bg-base-300 aria-pressed:bg-base-300"
          aria-pressed={look.name === offer.name}
          onClick={() => change({ ...offer, view: look.view })}
        >
          <span className="block">{offer.name}</span>
          <span className="block text-quiet">{purpose}</span>
        </button>
      ))}
    </section>
  );
}
