"use client";
import { useQuery } from "@tanstack/react-query";
import { setView, useView } from "../view/store";
import { api } from "../shared/api";
import type { ShotDetail } from "../../contract/shots";
import { SHELVES } from "./shelf";

/** What opens the drawer beside the picture. */
export function ShelfButtons({ shot }: { shot: ShotDetail }) {
  const { shelf } = useView("shelf");
  const stills = useQuery({ queryKey: ["stills"], queryFn: api.stills });
  const counts = { looks: null, versions: shot.versions.length, stills: stills.data?.length ?? null };
  return (Object.keys(SHELVES) as (keyof typeof SHELVES)[]).map((name) => (
    <button
      key={name}
      type="button"
      className={`btn btn-xs ${shelf === name ? "halo" : ""}`}
      aria-pressed={shelf === name}
      onClick={() => setView({ shelf: shelf === name ? null : name, preview: null })}
    >
      {SHELVES[name]}
      {counts[name] !== null && ` (${counts[name]})`}
    </button>
  ));
}
