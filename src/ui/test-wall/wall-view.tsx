"use client";
import { useShots } from "../shared/production";
import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "next/navigation";
import { useEffect, useState } from "react";
import { engineProblem } from "../engine/engine";
import { api } from "../shared/api";
import { useWorkspace } from "../shared/workspace";
import { readAddress } from "./address";
import { ShotWall } from "./shot-wall";

const Told = ({ children }: { children: React.ReactNode }) => (
  <p className="grid h-full place-items-center text-quiet">{children}</p>
);

/** One frame through many pieces of glass. */
export function WallView() {
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => setProblem(engineProblem()), []);
  const query = useSearchParams();
  const last = useWorkspace((state) => state.shotId);
  const [asked] = useState(() => readAddress(new URLSearchParams(query)));
  const [chosen, setChosen] = useState<string | null>(null);
  const shots = useShots();
  const ids = shots.data?.map(({ id }) => id) ?? [];
  const shotId = [chosen, asked.shot, last].find((id) => id !== null && ids.includes(id)) ?? ids[0] ?? null;
  const shot = useQuery({ queryKey: ["shot", shotId], queryFn: () => api.shot(shotId!), enabled: shotId !== null });
  const worn = useQuery({
    queryKey: ["worn look", shotId],
    queryFn: () => api.currentLook(shotId!),
    enabled: shotId !== null,
    // It is changed on the Bench.
    staleTime: 0,
    refetchOnMount: "always",
    refetchOnWindowFocus: false,
  });
  if (problem) return <Told>{problem}</Told>;
  if (shots.data && !shots.data.length)
    return <Told>There is no shot yet: bring some in under Footage, and put it through glass here.</Told>;
  const failed = shots.error ?? shot.error ?? worn.error;
  if (failed) return <Told>{failed.message}</Told>;
  if (!shot.data || !worn.data || worn.isFetching) return <Told>Opening the test wall …</Told>;
  return (
    <ShotWall
      key={shot.data.id}
      shot={shot.data}
      look={worn.data.look}
      asked={chosen === null || chosen === asked.shot ? asked : null}
      shots={shots.data ?? []}
      onShot={setChosen}
    />
  );
}
