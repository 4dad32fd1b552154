import { useQuery } from "@tanstack/react-query";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { platesIn } from "@/core/look/glass";
import type { Look } from "@/core/look/look";
import { api } from "../shared/api";
import type { Shot } from "../../contract/shots";

/** The part of an order that says what pixels come in: the shot, how it and the footage its look takes beside it are read. */
export function useSource(shot: Shot, look: Look | null) {
  const wanted = look ? platesIn(look) : [];
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots, enabled: wanted.length > 0 });
  const plates = wanted.map((id) => {
    const found = shots.data?.find((entry) => entry.id === id);
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
