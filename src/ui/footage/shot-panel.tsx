"use client";
import Link from "next/link";
import { useState } from "react";
import { toast } from "sonner";
import { firstOf, MAX_FRAME, lastOf } from "@/core/frame/ranges";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { EncodingSelect } from "../shared/encodings";
import { shotTitle } from "../shared/production";
import { GAP_WORDS } from "./intake/intake";
import { LookCheck } from "./look-check";
import type { Shot, ShotChange, Uses } from "../../contract/shots";
import type { Gaps } from "../../core/frame/gaps";
import { useShotChanges } from "./shot-changes";
import { NumberInput } from "../shared/number-input";
import { common, ProductionRow, row, SensorRows } from "./shot-fields";

/** What removing a shot means, in a sentence or two. */
function removalWords(shot: Shot, { usedBy, goes, stays }: Uses): string {
  if (usedBy.length) throw new Error(`${shot.name} is laid over ${usedBy.join(", ")}; take it off there first`);
  return `With ${shot.name} go ${goes.join(", ")}.${stays.length ? ` What stays: ${stays.join(", ")}.` : ""}`;
}

/** What is known and set of the selected shots; a change goes to all of them. */
export function ShotPanel({
  shots,
  onChanged,
  onMakeEncoding,
}: {
  shots: Shot[];
  onChanged(): void;
  onMakeEncoding(): void;
}) {
  const [tried, setTried] = useState<string | null>(null);
  const first = shots[0]!;
  const change = useShotChanges(shots);
  const save = (wanted: ShotChange) =>
    void change(wanted).then(
      () => setTried(null),
      (error: Error) => toast.error(error.message),
    );
  const encoding = common(shots, (shot) => shot.encoding);
  const squeezed = (common(shots, (shot) => shot.squeeze) ?? 1) !== 1;
  const channels = [...new Set(shots.flatMap(({ footage }) => footage.channels))];
  return (
    <aside
      aria-label="Selected shots"
      className="flex h-full flex-col gap-2 overflow-y-auto border-l border-line bg-base-200 p-3"
    >
      <h2 className="text-base font-semibold">{shots.length === 1 ? shotTitle(first) : `${shots.length} shots`}</h2>
      {shots.length === 1 && (
        <Link className="btn btn-xs self-start" href={`/bench/${first.id}`}>
          Work on it on the Bench
        </Link>
      )}
      <div className={row}>
        <span>Encoding</span>
        <EncodingSelect
          label="Encoding"
          value={tried ?? encoding ?? ""}
          mixed={encoding === undefined && tried === null}
          onChange={(name) => {
            setTried(name);
            save({ encoding: name });
          }}
        />
      </div>
      <p className={row}>
        <span />
        <span className="text-quiet">
          {shots.length === 1 ? first.encodingReason : "goes to all the selected shots"}.{" "}
          <button type="button" className="link" onClick={onMakeEncoding}>
            Make one …
          </button>
        </span>
      </p>
      <LookCheck shot={first} encoding={tried ?? encoding ?? first.encoding} />
      <SensorRows shots={shots} save={save} />
      <div className={row}>
        <span>Squeeze</span>
        <span className="flex items-center gap-3">
          <NumberInput
            label="Squeeze"
            value={common(shots, (shot) => shot.squeeze)}
            min={0.25}
            max={4}
            step={0.05}
            unit="×"
            onSave={(value) => value && save({ squeeze: value })}
          />
          <label className={`flex items-center gap-1 ${squeezed ? "" : "text-quiet"}`}>
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              disabled={!squeezed}
              checked={common(shots, (shot) => shot.desqueezed) ?? false}
              onChange={(event) => save({ desqueezed: event.target.checked })}
            />
            already undone in the frames
          </label>
        </span>
      </div>
      <div className={row}>
        <span>Frame rate</span>
        <NumberInput
          label="Frame rate"
          value={common(shots, (shot) => shot.frameRate)}
          min={0.1}
          max={1000}
          step={0.001}
          unit="frames a second"
          onSave={(value) => value && save({ frameRate: value })}
        />
      </div>
      <div className={row}>
        <span>In, out</span>
        <span className="flex items-center gap-1">
          <NumberInput
            label="In"
            value={common(shots, (shot) => shot.firstFrame)}
            min={0}
            max={MAX_FRAME}
            step={1}
            unit=""
            empty={String(firstOf(first.footage.frames))}
            onSave={(value) => save({ firstFrame: value })}
          />
          to
          <NumberInput
            label="Out"
            value={common(shots, (shot) => shot.lastFrame)}
            min={0}
            max={MAX_FRAME}
            step={1}
            unit=""
            empty={String(lastOf(first.footage.frames))}
            onSave={(value) => save({ lastFrame: value })}
          />
        </span>
      </div>
      <label className={row}>
        <span>Missing frames</span>
        <select
          className="select select-xs w-full"
          value={common(shots, (shot) => shot.gaps) ?? ""}
          onChange={(event) => save({ gaps: event.target.value as Gaps })}
        >
          {common(shots, (shot) => shot.gaps) === undefined && <option value="">Several</option>}
          {(Object.keys(GAP_WORDS) as Gaps[]).map((kind) => (
            <option key={kind} value={kind}>
              {GAP_WORDS[kind]}
            </option>
          ))}
        </select>
      </label>
      {channels.length > 4 && (
        <label className={row}>
          <span>Depth channel</span>
          <select
            className="select select-xs w-full"
            value={common(shots, (shot) => shot.depthChannel) ?? ""}
            onChange={(event) => save({ depthChannel: event.target.value || null })}
          >
            <option value="">The usual one (Z)</option>
            {channels.map((name) => (
              <option key={name}>{name}</option>
            ))}
          </select>
        </label>
      )}
      {shots.length === 1 && (
        <label className={row}>
          <span>Name</span>
          <input
            key={first.name}
            className="input input-xs w-full"
            maxLength={120}
            defaultValue={first.name}
            onBlur={(event) =>
              event.target.value.trim() && event.target.value !== first.name && save({ name: event.target.value })
            }
          />
        </label>
      )}
      <ProductionRow shots={shots} save={save} />
      <label className="flex flex-col gap-1">
        Notes
        <textarea
          key={common(shots, (shot) => shot.notes) ?? "several"}
          className="textarea textarea-xs w-full"
          rows={2}
          defaultValue={common(shots, (shot) => shot.notes) ?? ""}
          onBlur={(event) =>
            event.target.value !== common(shots, (shot) => shot.notes) && save({ notes: event.target.value })
          }
        />
      </label>
      {shots.length === 1 && (
        <ConfirmButton
          key={first.id}
          label="Remove this shot …"
          ask={async () => removalWords(first, await api.usesOfShot(first.id))}
          confirm="Remove it"
          onConfirm={() => api.removeShot(first.id).then(onChanged)}
        />
      )}
    </aside>
  );
}
