"use client";
import { useShots } from "../shared/production";
import { useMutation } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { addElement, elementsOf, setAt } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import type { Profile } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { useWorkspace } from "../shared/workspace";

/** A look with a lens as its own, or a filter in its first diffusion, or in a new one. */
function withGlass(look: Look, profile: Profile): Look {
  const FRAME = 0;
  if (profile.format === "pale-halo-lens") {
    const named = setAt(look, [null, "lens.profile"], profile.id, FRAME);
    const focalLength = profile.focalLengths?.[0];
    return focalLength ? setAt(named, [null, "lens.focalLength"], focalLength, FRAME) : named;
  }
  const found = elementsOf(look).find(({ kind }) => kind === "diffusion");
  const { look: own, id } = found ? { look, id: found.id } : addElement(look, "diffusion");
  const filtered = setAt(own, [id, "profile"], profile.id, FRAME);
  return setAt(filtered, [id, "grade"], profile.grades[0]!.grade, FRAME);
}

/** Puts a profile on the shot that was last worked on, or the first there is, and goes to the Bench. */
export function PutOnBench({ profile }: { profile: Profile }) {
  const router = useRouter();
  const shots = useShots();
  const last = useWorkspace((state) => state.shotId);
  const shot = shots.data?.find(({ id }) => id === last) ?? shots.data?.[0];
  const put = useMutation({
    mutationFn: async (shotId: string) => {
      const current = await api.currentLook(shotId);
      await api.putLooks([{ ...current, look: withGlass(current.look, profile) }]);
      return shotId;
    },
    onSuccess: (shotId) => router.push(`/bench/${shotId}`),
  });
  if (!shot) return null;
  return (
    <button type="button" className="btn btn-xs" disabled={put.isPending} onClick={() => put.mutate(shot.id)}>
      Put it on {shot.id}
    </button>
  );
}
