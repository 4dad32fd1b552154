"use client";
import { useState } from "react";
import { toast } from "sonner";
import type { Look } from "@/core/look/look";
import { type Difference, differences, type Names } from "@/core/look/differences";
import type { CurrentLook } from "@/contract/looks";
import type { HistoryStep } from "../document/document";
import { commitWithOthers, lookDocument, lookNow, undo, useDocument } from "../shot/document";
import { api } from "../shared/api";
import { DifferencesList } from "./differences-list";
import { putOnShots } from "../shot/put-on-shots";
import { useShelf } from "./use-shelf";

interface Done {
  shotId: string;
  name: string;
  differs: Difference[];
}

/** Puts what is offered on the shots that are chosen, and lists what changed, shot by shot. All of it is one step. */
export function PutOnSeveral({ puts, names, onDone }: { puts(onto: Look): Look; names: Names; onDone(): void }) {
  const { shot, beside: shots } = useShelf();
  const past = useDocument((state) => state.past);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [done, setDone] = useState<{ shots: Done[]; step: HistoryStep | undefined } | null>(null);
  const [busy, setBusy] = useState(false);
  const isAll = chosen.size === shots.length;
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    setChosen(next);
  };
  const put = async () => {
    const worn: CurrentLook[] = [];
    for (const id of chosen) if (id !== shot.id) worn.push(await api.currentLook(id));
    const after = worn.map((entry) => ({ ...entry, look: puts(entry.look) }));
    if (await putOnShots(after)) {
      const before = lookNow();
      // What was changed here meanwhile stays: it is put on the look as it stands now.
      const onOwn = (now: Look) => (chosen.has(shot.id) ? puts(now) : now);
      if (!commitWithOthers(onOwn, { before: worn, after }, shot.id) || !before) {
        const own = chosen.has(shot.id) ? `; ${shot.name} was left before, and is as it was` : "";
        toast(`Put on ${after.length === 1 ? "one other shot" : `${after.length} other shots`}${own}`);
        return;
      }
      const own = lookNow()!;
      const nameOf = (id: string) => shots.find((entry) => entry.id === id)?.name ?? id;
      const told = worn.map(({ shotId, look: before }, i) => ({
        shotId,
        name: nameOf(shotId),
        differs: differences(before, after[i]!.look, names),
      }));
      const here = chosen.has(shot.id)
        ? [{ shotId: shot.id, name: shot.name, differs: differences(before, own, names) }]
        : [];
      setDone({ shots: [...here, ...told], step: lookDocument.store.getState().past.at(-1) });
      onDone();
    }
  };
  const start = () => {
    setBusy(true);
    void put()
      .catch((error: Error) => toast.error(error.message))
      .finally(() => setBusy(false));
  };
  if (done)
    return (
      <div role="status" aria-label="What changed" className="flex flex-col gap-2">
        {done.shots.map(({ shotId, name, differs }) => (
          <details key={shotId}>
            <summary className="cursor-pointer">
              {name}: {differs.length} {differs.length === 1 ? "change" : "changes"}
            </summary>
            <DifferencesList differences={differs} />
          </details>
        ))}
        <div className="flex gap-1">
          <button
            type="button"
            className="btn btn-xs"
            disabled={past.at(-1) !== done.step}
            onClick={() => {
              undo();
              setDone(null);
            }}
          >
            Undo it on all of them
          </button>
          <button type="button" className="btn btn-xs" onClick={() => setDone(null)}>
            Good
          </button>
        </div>
      </div>
    );
  return (
    <div className="flex flex-col gap-1">
      <label className="flex items-center gap-2 border-b border-line pb-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={isAll}
          onChange={() => setChosen(new Set(isAll ? [] : shots.map(({ id }) => id)))}
        />
        All shots
      </label>
      <ul aria-label="Shots to put it on" className="max-h-44 overflow-y-auto">
        {shots.map(({ id, name }) => (
          <li key={id} className="[content-visibility:auto]">
            <label className="flex items-center gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={chosen.has(id)}
                onChange={() => toggle(id)}
              />
              <span className="min-w-0 truncate">{name}</span>
              {id === shot.id && <span className="text-quiet">this one</span>}
            </label>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-xs btn-primary self-start"
        disabled={!chosen.size || busy}
        onClick={start}
      >
        {chosen.size === 1 ? "Put on one shot" : `Put on ${chosen.size} shots`}
      </button>
    </div>
  );
}
