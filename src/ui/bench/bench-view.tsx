"use client";
import { useQuery } from "@tanstack/react-query";
import { Redo2, Scan, Undo2 } from "lucide-react";
import { useRouter, useSearchParams } from "next/navigation";
import { useEffect, useMemo, useRef, useState } from "react";
import { isTimed } from "@/core/look/edit";
import { alone as aloneIn } from "@/core/look/excerpt";
import { fromPlain } from "@/core/colour/transform/plain";
import type { Transform } from "@/core/colour/transform/transform";
import { countOf, firstOf, frameAt, hasFrame } from "@/core/frame/ranges";
import { cabinetOf, type Cabinet, type Profile } from "@/core/profile/profiles";
import { browserEngine, engineProblem } from "../engine/engine";
import { api } from "../shared/api";
import { shotTitle } from "../shared/production";
import { CompareBar } from "../compare/compare-bar";
import { CornersView } from "../corners/corners-view";
import { keptLookOf, referenceLook, rememberCompare, rememberedCompare } from "../compare/compare";
import { useOthers } from "../compare/use-others";
import { useKeptLook } from "../looks/kept-look";
import { ScopesColumn } from "../scopes/scopes-column";
import { useWorkspace } from "../shell/workspace";
import { ConflictBar } from "./conflict-bar";
import { FrameStrip } from "./frame-strip";
import { LightPath } from "./light-path";
import { Panel } from "./panel";
import { InspectField } from "./inspect-field";
import { showing } from "./inspect";
import { lookAtFrame, ShownLookProvider } from "./shown-look";
import { TimeDrawer } from "./time/drawer";
import { PictureArea } from "./picture";
import { useGestures } from "./gestures";
import { WHOLE, type Zoom } from "../viewport/place";
import { useBench } from "./store";
import { useBenchCommands } from "./use-commands";
import { useDepth } from "./use-depth";
import { announceWindow } from "../document/unsaved";
import { cameraOf, lookDocument, redo, undo, useDocument } from "./document";
import { usePicture } from "./use-pictures";
import { usePlaying } from "./use-playing";
import { useSaving } from "./use-saving";
import { useJudged } from "./use-judged";
import { useSource } from "./use-source";
import { ShelfButtons } from "../looks/shelf-buttons";
import { ShelfDrawer } from "../looks/shelf";
import type { ShotDetail } from "../../contract/shots";

const ZOOMS: [Zoom, string][] = [
  ["fit", "Fit"],
  [1, "1:1"],
  [2, "2:1"],
  [4, "4:1"],
];
/** The glass and the table a look may name. */
interface Named {
  profiles: Profile[];
  tables: [string, Transform][];
}

/** Gives the engine what looks may name. Its effect stands before those that ask for pictures, which name it. */
function useGlass({ profiles, tables }: Named): void {
  useEffect(() => browserEngine().setCabinet(profiles, tables), [profiles, tables]);
}

function Bench({ shot, cabinet, named }: { shot: ShotDetail; cabinet: Cabinet; named: Named }) {
  const {
    selected,
    frame,
    looking,
    held,
    preview,
    inSight,
    corners,
    compare,
    scopes,
    inspect,
    marked,
    alone,
    timeDrawer,
    playing,
    set,
  } = useBench();
  const look = useDocument((state) => state.look);
  const past = useDocument((state) => state.past);
  const future = useDocument((state) => state.future);
  useGlass(named);
  useSaving(shot);
  useDepth(shot);
  useGestures();
  useBenchCommands(shot);
  const { frames } = shot;

  // The address holds the place.
  useEffect(() => {
    const place = new URLSearchParams({ frame: String(frame), ...(selected ? { element: selected } : {}) });
    window.history.replaceState(null, "", `${window.location.pathname}?${place}`);
  }, [frame, selected]);

  const source = useSource(shot, look);
  const { width } = shot.footage;
  const common = { ...source, frame, width };
  // What nothing moves is the same at every frame, and need not be looked at again while it plays.
  const moment = look && isTimed(look) ? frame : firstOf(frames);
  const at = useMemo(() => look && lookAtFrame({ shot, look, cabinet }, moment), [look, cabinet, shot, moment]);
  const others = useOthers(shot);
  const { reference, way, times } = compare;
  const kept = useKeptLook(keptLookOf(held ?? reference, shot.id, others));
  const against = useMemo(
    () => look && referenceLook(held ?? reference, look, selected, others, kept),
    [look, held, reference, selected, others, kept],
  );
  const seen = useMemo(() => {
    if (!look) return null;
    if (preview) return { look: preview.look, still: preview.still, output: { kind: "display" as const } };
    const own = showing(inspect, alone && selected ? aloneIn(look, selected) : look, selected, marked);
    if (way !== "difference" || !against || held || own.output.kind !== "display" || own.ends) return own;
    const { look: reference, still } = against;
    return { look: own.look, output: { kind: "difference" as const, reference, still, times } };
  }, [look, preview, inspect, alone, selected, marked, way, against, held, times]);
  const played = usePlaying(seen && { ...source, ...seen }, frames, width);
  // Demo footage that is still being computed is not asked for ahead.
  const there = shot.progress < 1 ? undefined : frames;
  const wanted = seen && !playing ? { ...common, ...seen, frames: there } : null;
  const still = usePicture("picture", wanted && !corners.open ? { ...wanted, rows: inSight } : null);
  // What was played last stays until the still picture of where it stopped is there.
  const stays = !still.isCurrent && played.frame === frame && played.look === seen?.look ? played.picture : null;
  const shown = playing ? { ...played, busy: false } : stays ? { ...still, picture: stays } : still;
  const isBeside = !preview && (held !== null || way === "wipe" || way === "side");
  const compared =
    against && isBeside && !playing
      ? { ...common, ...showing(inspect, against.look, selected, marked), still: against.still }
      : null;
  const other = usePicture("compared", compared && !corners.open ? { ...compared, rows: inSight } : null);
  const isResting = !playing && still.isCurrent && !still.busy;
  const judged = useJudged({ ...source, frame }, look, width, isResting);
  useEffect(() => rememberCompare(shot.id, compare), [shot.id, compare]);

  const shownLook = useMemo(() => look && at && { shot, look, at, cabinet }, [shot, look, at, cabinet]);

  if (!look || !at || !shownLook) return null;
  return (
    <ShownLookProvider value={shownLook}>
      <div className="grid h-full grid-cols-[minmax(0,1fr)_minmax(360px,27%)]">
        <div className="flex min-h-0 min-w-0 flex-col">
          <div
            role="toolbar"
            aria-label="Picture"
            className="flex h-9 shrink-0 items-center gap-2 border-b border-line px-3 whitespace-nowrap"
          >
            <div role="group" aria-label="Size of the picture" className="join">
              {ZOOMS.map(([value, label]) => (
                <button
                  key={label}
                  type="button"
                  className={`btn btn-xs join-item ${looking.zoom === value ? "btn-primary" : ""}`}
                  aria-pressed={looking.zoom === value}
                  onClick={() => set({ looking: value === "fit" ? WHOLE : { ...looking, zoom: value } })}
                >
                  {label}
                </button>
              ))}
            </div>
            <button
              type="button"
              className={`btn btn-xs btn-square ${corners.open ? "halo" : ""}`}
              aria-label="Centre and corners"
              title="Centre and corners (C)"
              aria-pressed={corners.open}
              onClick={() => set({ corners: { ...corners, open: !corners.open } })}
            >
              <Scan size={13} />
            </button>
            <CompareBar others={others} />
            <InspectField look={look} />
            <div className="ml-auto flex items-center gap-1">
              <button
                type="button"
                className="btn btn-xs btn-square"
                aria-label="Undo"
                disabled={!past.length}
                onClick={undo}
              >
                <Undo2 size={13} />
              </button>
              <button
                type="button"
                className="btn btn-xs btn-square"
                aria-label="Redo"
                disabled={!future.length}
                onClick={redo}
              >
                <Redo2 size={13} />
              </button>
              <button
                type="button"
                className={`btn btn-xs ${scopes.open ? "halo" : ""}`}
                aria-pressed={scopes.open}
                onClick={() => set({ scopes: { ...scopes, open: !scopes.open } })}
              >
                Scopes
              </button>
              <ShelfButtons shot={shot} />
            </div>
          </div>
          <ConflictBar shot={shot} />
          <div className="flex min-h-0 flex-1">
            <ShelfDrawer />
            <div className="min-w-0 flex-1">
              {corners.open && !playing ? (
                <CornersView
                  wanted={wanted}
                  compared={compared}
                  frame={shot.footage}
                  stretch={shot.desqueezed ? 1 : shot.squeeze}
                />
              ) : (
                <PictureArea
                  shot={shot}
                  look={look}
                  at={at}
                  shown={shown}
                  isDifference={seen?.output.kind === "difference" && inspect.kind === "picture"}
                  other={against && isBeside ? other : null}
                  others={others}
                />
              )}
            </div>
            {scopes.open && (
              <ScopesColumn order={{ ...source, frame }} look={look} against={against} picture={shown.picture} />
            )}
          </div>
          <LightPath look={look} at={at} />
          {timeDrawer && <TimeDrawer />}
          <FrameStrip shot={shot} played={played} />
        </div>
        <Panel shot={shot} look={look} at={at} cabinet={cabinet} judged={judged} />
      </div>
    </ShownLookProvider>
  );
}

const Notice = ({ children }: { children: React.ReactNode }) => (
  <p className="grid h-full place-items-center text-quiet">{children}</p>
);

/** The main view: one shot, its picture, its light path. */
export function BenchView({ shotId }: { shotId: string }) {
  const router = useRouter();
  const place = useSearchParams();
  const shot = useQuery({
    queryKey: ["shot", shotId],
    queryFn: () => api.shot(shotId),
    refetchInterval: ({ state }) => (state.data && state.data.progress < 1 ? 2000 : false),
  });
  const profiles = useQuery({ queryKey: ["profiles"], queryFn: api.profiles, staleTime: Infinity });
  const look = useDocument((state) => (state.shotId === shotId ? state.look : null));
  const lut = look?.view.kind === "lut" ? (look.view.lut ?? null) : null;
  const table = useQuery({
    queryKey: ["table", lut],
    queryFn: async () => [[lut!, fromPlain(await api.table(lut!))]] as [string, Transform][],
    enabled: lut !== null,
    staleTime: Infinity,
  });
  const tables = useMemo(() => (lut !== null && table.data) || [], [lut, table.data]);
  const named = useMemo(() => (profiles.data ? { profiles: profiles.data, tables } : null), [profiles.data, tables]);
  const cabinet = useMemo(() => named && cabinetOf(named.profiles, named.tables), [named]);
  const [problem, setProblem] = useState<string | null>(null);
  const opened = useRef(false);
  const tell = useWorkspace((state) => state.set);
  const { open } = useBench();

  useEffect(() => setProblem(engineProblem()), []);
  useEffect(() => announceWindow(), []);
  useEffect(() => {
    const detail = shot.data;
    if (!detail || !profiles.data || opened.current || engineProblem()) return;
    opened.current = true;
    const wanted = Number(place.get("frame"));
    const { frames, name, production } = detail;
    const frame = hasFrame(frames, wanted) ? wanted : frameAt(frames, Math.floor(countOf(frames) / 3))!;
    open({ frame, selected: place.get("element"), compare: rememberedCompare(shotId) });
    tell({ shotId, title: `${production.name} · ${shotTitle({ id: shotId, name })}` });
    lookDocument.open(shotId, cameraOf(detail), detail.depth).catch((error: Error) => setProblem(error.message));
  }, [shot.data, profiles.data, place, open, tell, shotId]);

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
  if (!shot.data || !named || !cabinet || !look || (lut !== null && !table.data && !table.isError))
    return <Notice>Opening {shotId} …</Notice>;
  if (shot.data.progress === 0) return <Notice>The footage of {shotId} is about to be computed …</Notice>;
  return <Bench shot={shot.data} cabinet={cabinet} named={named} />;
}
