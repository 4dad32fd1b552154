"use client";
import { useMutation } from "@tanstack/react-query";
import Link from "next/link";
import type { Profile } from "@/core/profile/profiles";
import { useRefreshedCabinet } from "../cabinet/refresh";
import { PutOnBench } from "../cabinet/put-on-bench";
import { api } from "../shared/api";

/** Keeps what was measured as a profile, or says what it lacks; then leads to it. */
export function KeepProfile({ made }: { made: { profile: Profile } | { lack: string } }) {
  const refresh = useRefreshedCabinet();
  const keep = useMutation({ mutationFn: (profile: Profile) => api.keepProfile(profile), onSuccess: refresh });
  return (
    <>
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={"lack" in made || keep.isPending}
          onClick={() => "profile" in made && keep.mutate(made.profile)}
        >
          Keep as a profile
        </button>
        {"lack" in made && <span className="text-quiet">{made.lack}</span>}
      </div>
      {keep.data && (
        <p role="status" className="flex flex-wrap items-center gap-2">
          Kept as {keep.data.profile.name}.
          <Link className="underline underline-offset-2" href={`/cabinet?profile=${keep.data.profile.id}`}>
            Open it in the Cabinet
          </Link>
          <PutOnBench profile={keep.data.profile} />
        </p>
      )}
    </>
  );
}
