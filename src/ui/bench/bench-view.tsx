"use client";
import { useQuery } from "@tanstack/react-query";
import { useRouter, useSearchParams } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { countOf, frameAt, hasFrame } from "@/core/frame/ranges";
import { announceWindow } from "../document/unsaved";
import { engineProblem } from "../engine/engine";
import { api } from "../shared/api";
import { enterProduction, shotTitle } from "../shared/production";
import { useWorkspace } from "../shared/workspace";
import { cameraOf, commit, lookDocument, useDocument } from "../shot/document";
import { takeSentLook } from "../shot/sent-look";
import { useNamed } from "../shot/use-named";
import { rememberedCompare } from "../view/compare";
import { openView } from "../view/store";
import { Bench } from "./bench";

const Notice = ({ children }: { children: React.ReactNode }) => (
  <p className="grid h-full place-items-center text-quiet">{children}</p>
);

/** The main view: one shot, its picture, its light path. */
export function BenchView({ shotId }: { shotId: string }) {
  const router = useRouter();
  const query = useSearchParams();
  const shot = useQuery({
    queryKey: ["shot", shotId],
    queryFn: () => api.shot(shotId),
    refetchInterval: ({ state }) => (state.data && state.data.progress < 1 ? 2000 : false),
  });
  const look = useDocument((state) => (state.shotId === shotId ? state.look : null));
  const glass = useNamed(look);
  const [problem, setProblem] = useState<string | null>(null);
  const opened = useRef(false);
  const tell = useWorkspace((state) => state.set);

  useEffect(() => setProblem(engineProblem()), []);
  useEffect(() => announceWindow(), []);
  useEffect(() => {
    const detail = shot.data;
    if (!detail || opened.current || engineProblem()) return;
    opened.current = true;
    const wanted = Number(query.get("frame"));
    const { frames, name } = detail;
    const frame = hasFrame(frames, wanted) ? wanted : frameAt(frames, Math.floor(countOf(frames) / 3))!;
    openView({ frame, selected: query.get("element"), compare: rememberedCompare(shotId) });
    tell({ shotId, title: shotTitle({ id: shotId, name }) });
    lookDocument
      .open(shotId, cameraOf(detail), detail.depth)
      .then((isOpen) => {
        const sent = takeSentLook(shotId);
        if (isOpen && sent) commit(() => sent, shotId);
      })
      .catch((error: Error) => setProblem(error.message));
  }, [shot.data, query, tell, shotId]);

  const production = shot.data?.production.id;
  useEffect(() => {
    if (production !== undefined) enterProduction(production);
  }, [production]);

  if (problem) return <Notice>{problem}</Notice>;
  if (shot.isError)
    return (
      <Notice>
        {shot.error.message}.{" "}
        <button className="link ml-1" onClick={() => router.push("/footage")}>
          Choose a shot in Footage
        </button>
      </Notice>
    );
  if (!shot.data || !glass || !look) return <Notice>Opening {shotId} …</Notice>;
  if (shot.data.progress === 0) return <Notice>The footage of {shotId} is about to be computed …</Notice>;
  return <Bench shot={shot.data} look={look} {...glass} />;
}
