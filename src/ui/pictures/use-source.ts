import { useQuery } from "@tanstack/react-query";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { platesIn } from "@/core/look/glass";
import type { Look } from "@/core/look/look";
import { api } from "../shared/api";
import type { Shot } from "../../contract/shots";

/**
 * The part of an order that says what pixels come in: the shot, how it and the footage its look takes beside it are
 * read.
 */
export function sourceFor(shot: Shot, look: Look | null, shots: readonly Shot[]) {
  const plates = (look ? platesIn(look) : []).map((id) => {
    const found = shots.find((entry) => entry.id === id);
    return found ? [id, found.footageId, found.encoding, found.gaps].join(" ") : id;
  });
  const { frames, frameRate } = shot;
  return {
    shotId: shot.id,
    encoding: shot.encoding,
    plates: plates.join("\n"),
    shot: { first: firstOf(frames), last: lastOf(frames) },
    frameRate,
  };
}

export function useSource(shot: Shot, look: Look | null) {
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  return sourceFor(shot, look, shots.data ?? []);
}
