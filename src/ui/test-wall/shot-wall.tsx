"use client";
import { useRouter } from "next/navigation";
import { useEffect, useMemo, useState } from "react";
import { countOf, frameAt, hasFrame, indexOfFrame } from "@/core/frame/ranges";
import type { Look } from "@/core/look/look";
import { type Axis, type AxisKind, axisTitle, UnknownName, type Wall, wallOf } from "@/core/wall/axis";
import type { ShotDetail } from "../../contract/shots";
import { browserEngine } from "../engine/engine";
import { useLibrary } from "../looks/use-library";
import { noteAddress } from "../shared/address";
import { shotTitle } from "../shared/production";
import { sendLook } from "../shot/sent-look";
import { useNamed } from "../shot/use-named";
import { type WallAddress, writeAddress } from "./address";
import { AxisField } from "./axis-field";
import type { Choices } from "./choices";
import { firstAxis } from "./first-axis";
import { useWallLooks } from "./use-wall-looks";
import { WallRoom } from "./wall-room";

interface ShotWallProps {
  shot: ShotDetail;
  /** The look that everything else of a tile comes from. */
  look: Look;
  /** What the address asked for at first. */
  asked: WallAddress | null;
  shots: readonly { id: string; name: string }[];
  onShot(id: string): void;
}

/** The wall of a shot: which frame, what changes along its sides, and its tiles. */
export function ShotWall({ shot, look, asked, shots, onShot }: ShotWallProps) {
  const router = useRouter();
  const glass = useNamed(look);
  const library = useLibrary();
  const looks = useMemo(() => library?.looks ?? [], [library]);
  const { versions } = shot;
  const choices = useMemo<Choices | null>(
    () => glass && { look, cabinet: glass.cabinet, looks, versions },
    [glass, look, looks, versions],
  );
  const { frames } = shot;
  const first = asked?.frame ?? null;
  const [frame, setFrame] = useState(
    first !== null && hasFrame(frames, first) ? first : frameAt(frames, Math.floor(countOf(frames) / 3))!,
  );
  const [across, setAcross] = useState<Axis | null | undefined>(asked?.across);
  const [down, setDown] = useState<Axis | null | undefined>(asked?.down);
  // What nothing is said of is as it is at first: lenses against the grades of a filter.
  const [columns, rows] = useMemo(() => {
    const atFirst = (kind: AxisKind) => (choices ? firstAxis(kind, choices) : null);
    return [across === undefined ? atFirst("lens") : across, down === undefined ? atFirst("filter") : down];
  }, [across, down, choices]);
  const named = useWallLooks(shot.id, [columns, rows], { looks, versions });
  useEffect(() => {
    if (!choices) return;
    const query = writeAddress(shot.id, frame, columns, rows);
    noteAddress(`${window.location.pathname}?${query}`);
  }, [choices, shot.id, frame, columns, rows]);
  useEffect(() => {
    if (glass) browserEngine().setCabinet(glass.named.profiles, glass.named.tables);
  }, [glass]);
  const { wall, problem } = useMemo((): { wall: Wall | null; problem: string | null } => {
    if (!choices || !named.isThere) return { wall: null, problem: null };
    try {
      const { cabinet } = choices;
      return {
        wall: wallOf(look, columns, rows, { cabinet, looks: named.looks, frame }),
        problem: null,
      };
    } catch (error) {
      if (!(error instanceof UnknownName)) throw error;
      return { wall: null, problem: `Of what was chosen, ${error.message}` };
    }
  }, [choices, look, columns, rows, named, frame]);
  if (!choices) return <p className="grid h-full place-items-center text-quiet">Opening the test wall …</p>;
  const index = indexOfFrame(frames, frame);
  return (
    <div className="flex h-full">
      <aside
        aria-label="What the wall shows"
        className="flex w-64 shrink-0 flex-col gap-2 overflow-y-auto border-r border-line p-3"
      >
        <h1 className="text-base font-semibold">Test wall</h1>
        <label className="grid grid-cols-[3.25rem_1fr] items-center gap-2">
          <span>Shot</span>
          <select className="select select-xs w-full" value={shot.id} onChange={({ target }) => onShot(target.value)}>
            {shots.map((one) => (
              <option key={one.id} value={one.id}>
                {shotTitle(one)}
              </option>
            ))}
          </select>
        </label>
        <label className="grid grid-cols-[3.25rem_1fr_2.5rem] items-center gap-2">
          <span>Frame</span>
          <input
            type="range"
            className="range range-xs"
            min={0}
            max={countOf(frames) - 1}
            value={index}
            onChange={({ target }) => setFrame(frameAt(frames, Number(target.value))!)}
          />
          <output className="figures text-right">{frame}</output>
        </label>
        <AxisField label="Across" axis={columns} choices={choices} onAxis={setAcross} />
        <AxisField label="Down" axis={rows} choices={choices} onAxis={setDown} />
        {problem && (
          <p role="alert" className="text-error">
            {problem}
          </p>
        )}
      </aside>
      {wall && (
        <WallRoom
          {...{ shot, look, frame, wall }}
          titles={[columns ? axisTitle(columns, look) : "", rows ? axisTitle(rows, look) : ""]}
          onBench={(chosen) => {
            sendLook(shot.id, chosen);
            router.push(`/bench/${shot.id}?frame=${frame}`);
          }}
        />
      )}
    </div>
  );
}
