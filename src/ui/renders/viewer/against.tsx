"use client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { hasFrame } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import type { ListedRender } from "../../../contract/renders";
import type { ShotDetail } from "../../../contract/shots";
import { type Others, referenceLook } from "../../compare/compare";
import { browserEngine } from "../../engine/engine";
import { usePicture } from "../../pictures/use-picture";
import { useSource } from "../../pictures/use-source";
import { api } from "../../shared/api";
import { useNamed } from "../../shot/use-named";
import { type Rendered, useRendered } from "./rendered";

/** What a render is held against: another render of its shot, the footage, or what the Bench makes of it now. */
export interface Against {
  kind: "render" | "footage" | "bench";
  /** Of a render. */
  id?: number;
  name: string;
}

const FOOTAGE: Against = { kind: "footage", name: "the footage" };
const BENCH: Against = { kind: "bench", name: "the Bench as it is now" };

export function ReferenceField({
  value,
  others,
  hasShot,
  onChange,
}: {
  value: Against | null;
  others: readonly ListedRender[];
  /** Its shot is still there. */
  hasShot: boolean;
  onChange(against: Against | null): void;
}) {
  const offers = [
    ...(hasShot ? [FOOTAGE, BENCH] : []),
    ...others.map(({ id, versionName }): Against => ({ kind: "render", id, name: `render ${id}, ${versionName}` })),
  ];
  return (
    <select
      className="select select-xs w-52"
      aria-label="Compare with"
      value={value?.name ?? ""}
      onChange={({ target }) => onChange(offers.find(({ name }) => name === target.value) ?? null)}
    >
      <option value="">Compare with nothing</option>
      {offers.map(({ name }) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
}

/** The picture of what a render is held against, on a frame. */
export function useAgainst(against: Against | null, shot: ShotDetail | null, frame: number): Rendered {
  const rendered = useRendered(against?.kind === "render" ? against.id! : null, frame);
  const isMade = against !== null && against.kind !== "render" && shot !== null && hasFrame(shot.frames, frame);
  const current = useQuery({
    queryKey: ["current look", shot?.id],
    queryFn: async () => (await api.currentLook(shot!.id)).look,
    enabled: isMade,
    refetchOnMount: "always",
  });
  const look: Look | null = (isMade && current.data) || null;
  const glass = useNamed(look);
  useEffect(() => {
    if (glass) browserEngine().setCabinet(glass.named.profiles, glass.named.tables);
  }, [glass]);
  const source = useSource((shot ?? NO_SHOT) as ShotDetail, look);
  const wanted =
    look && glass && shot
      ? {
          ...{ ...source, frame, width: shot.footage.width, height: shot.footage.height },
          look: against!.kind === "footage" ? referenceLook({ kind: "footage" }, look, null, NO_OTHERS)!.look : look,
          output: { kind: "display" as const },
        }
      : null;
  const made = usePicture("compared", wanted);
  return against?.kind === "render"
    ? rendered
    : { picture: wanted ? made.picture : null, problem: made.problem, busy: isMade && made.busy };
}

const NO_OTHERS: Others = { versions: [], looks: [], shots: [], stills: [] };
/** Stands in until a shot is there; nothing is asked for by it. */
const NO_SHOT = { id: "", encoding: "", frames: [[1, 1]], frameRate: 24 };
