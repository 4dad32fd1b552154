"use client";
import { useProductions } from "../../shared/production";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { countOf, firstOf, lastOf, rangesText } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { api } from "../../shared/api";
import { EncodingSelect } from "../../shared/encodings";
import { batchOf, type Dropped, isMovie } from "./files";
import { type Progress, sendAll } from "./send";
import type { Decision, Finding, FoundGroup } from "../../../contract/intake";
import type { Gaps } from "../../../core/frame/gaps";

/** Where what is to be taken in comes from. */
export type Origin = { kind: "files"; files: Dropped[] } | { kind: "folder"; path: string };

export const GAP_WORDS: Record<Gaps, string> = { hold: "hold the frame before", black: "black", refuse: "refuse" };
const sizeLabel = (bytes: number) =>
  bytes < 2 ** 20 ? `${Math.ceil(bytes / 1024)} kB` : `${(bytes / 2 ** 20).toFixed(1)} MB`;

const keyOf = ({ folder, pattern, numbers }: FoundGroup) => `${folder}/${pattern} ${firstOf(numbers)}`;

function GroupRow({
  group,
  decision,
  onChange,
}: {
  group: FoundGroup;
  decision: Decision;
  onChange(change: Partial<Decision>): void;
}) {
  const {
    folder,
    pattern,
    numbers,
    gaps,
    width,
    height,
    depth,
    format,
    channels,
    framesPerSecond,
    pixelAspect = 1,
    timeCode,
    bytes,
    encoding,
    reason,
  } = group;
  return (
    <tr>
      <td>
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          aria-label={`Take in ${pattern}`}
          checked={decision.take}
          onChange={(event) => onChange({ take: event.target.checked })}
        />
      </td>
      <td className="figures">
        {folder && <span className="text-quiet">{folder}/</span>}
        {pattern}
      </td>
      <td className="figures whitespace-nowrap">
        {countOf(numbers) === 1 ? "still" : `${countOf(numbers)} frames, ${firstOf(numbers)} to ${lastOf(numbers)}`}
        {gaps.length > 0 && <p className="text-warning">missing: {rangesText(gaps)}</p>}
      </td>
      <td className="figures">
        {width} × {height}, {format}, {depthLabel(depth)}
        <p className="text-quiet">
          {channels.slice(0, 8).join(" ")}
          {channels.length > 8 ? " …" : ""}
          {framesPerSecond ? `, ${Number(framesPerSecond.toFixed(3))} fps` : ""}
          {timeCode ? `, from ${timeCode}` : ""}
          {pixelAspect === 1 ? "" : `, squeezed ${Number(pixelAspect.toFixed(3))}×`}, {sizeLabel(bytes)}
        </p>
      </td>
      <td className="w-[22rem]">
        <EncodingSelect
          label={`Encoding of ${pattern}`}
          value={decision.encoding ?? encoding}
          onChange={(name) => onChange({ encoding: name })}
        />
        <p className="text-quiet">
          {decision.encoding && decision.encoding !== encoding ? "chosen by you" : `guessed: ${reason}`}
        </p>
      </td>
      <td>
        {gaps.length > 0 && (
          <select
            className="select select-xs w-44"
            aria-label={`Missing frames of ${pattern}`}
            value={decision.gaps}
            onChange={(event) => onChange({ gaps: event.target.value as Gaps })}
          >
            {(Object.keys(GAP_WORDS) as Gaps[]).map((kind) => (
              <option key={kind} value={kind}>
                {GAP_WORDS[kind]}
              </option>
            ))}
          </select>
        )}
      </td>
    </tr>
  );
}

function Found({
  finding,
  onTake,
  onLeave,
  busy,
}: {
  finding: Finding;
  onTake(decisions: Decision[]): void;
  onLeave(): void;
  busy: boolean;
}) {
  const [decisions, setDecisions] = useState<Record<string, Decision>>(() =>
    Object.fromEntries(
      finding.groups.map((group) => [
        keyOf(group),
        {
          folder: group.folder,
          pattern: group.pattern,
          first: firstOf(group.numbers),
          take: true,
          gaps: "hold" as Gaps,
        },
      ]),
    ),
  );
  const wanted = Object.values(decisions).filter(({ take }) => take).length;
  return (
    <>
      {finding.groups.length > 0 && (
        <table className="table-sm table">
          <thead>
            <tr>
              <th className="w-8" />
              <th>Sequence or still</th>
              <th>Frames</th>
              <th>What it is</th>
              <th>Encoding</th>
              <th>{finding.groups.some(({ gaps }) => gaps.length) ? "Missing frames" : ""}</th>
            </tr>
          </thead>
          <tbody>
            {finding.groups.map((group) => (
              <GroupRow
                key={keyOf(group)}
                group={group}
                decision={decisions[keyOf(group)]!}
                onChange={(change) =>
                  setDecisions((all) => ({ ...all, [keyOf(group)]: { ...all[keyOf(group)]!, ...change } }))
                }
              />
            ))}
          </tbody>
        </table>
      )}
      {finding.groups.length === 0 && <p>Nothing here can be taken in.</p>}
      <div className="mt-2 flex gap-2">
        {finding.groups.length > 0 && (
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={busy || wanted === 0}
            onClick={() => onTake(Object.values(decisions))}
          >
            {busy ? "Taking in …" : `Take in ${wanted === 1 ? "one shot" : `${wanted} shots`}`}
          </button>
        )}
        <button type="button" className="btn btn-sm" disabled={busy} onClick={onLeave}>
          Leave it
        </button>
      </div>
    </>
  );
}

const Refused = ({ refused }: { refused: Finding["refused"] }) =>
  refused.length > 0 && (
    <ul role="alert" className="my-2 max-h-28 overflow-y-auto text-error">
      {refused.map(({ name, reason }) => (
        <li key={name}>
          {name}: {reason}
        </li>
      ))}
    </ul>
  );

/** From files or a folder to shots: what comes is read, what was found is stated, and the user decides. */
export function Intake({ origin, onClose, onTaken }: { origin: Origin; onClose(): void; onTaken(): void }) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const [finding, setFinding] = useState<Finding | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const batch = useRef("");
  const abort = useRef(new AbortController());

  useEffect(() => {
    const control = new AbortController();
    abort.current = control;
    const look = async () => {
      if (origin.kind === "folder") return setFinding(await api.folderFinding(origin.path));
      batch.current = await batchOf(origin.files);
      const readsMovies = origin.files.some(isMovie) && (await api.formats()).movies;
      const { refused } = await sendAll(
        batch.current,
        origin.files,
        { signal: control.signal, readsMovies },
        (now) => !control.signal.aborted && setProgress(now),
      );
      if (control.signal.aborted) return;
      const found = await api.finding(batch.current);
      setFinding({ groups: found.groups, refused: [...refused, ...found.refused] });
    };
    look().catch((error: Error) => !control.signal.aborted && setProblem(error.message));
    return () => control.abort();
  }, [origin]);

  const { current } = useProductions();
  const take = (decisions: Decision[]) => {
    setBusy(true);
    const into = current?.id ?? null;
    const taken =
      origin.kind === "folder"
        ? api.takeInFolder(origin.path, decisions, into)
        : api.takeIn(batch.current, decisions, into);
    taken.then(
      ({ shots, refused }) => {
        toast(
          shots.length === 0
            ? "Nothing was taken in"
            : shots.length === 1
              ? "One shot taken in"
              : `${shots.length} shots taken in`,
        );
        onTaken();
        const left = [
          ...(finding?.refused ?? []),
          ...refused.filter(({ name }) => !finding?.refused.some((known) => known.name === name)),
        ];
        if (left.length) setFinding({ groups: [], refused: left });
        else onClose();
        setBusy(false);
      },
      (error: Error) => {
        toast.error(error.message);
        setBusy(false);
      },
    );
  };
  const leave = () => {
    abort.current.abort();
    if (origin.kind === "files" && batch.current) void api.leave(batch.current).catch(() => {});
    onClose();
  };
  return (
    <section aria-label="What was found" className="mb-3 rounded-md border border-line bg-base-200 p-3">
      <h2 className="mb-1 font-semibold">
        {origin.kind === "folder" ? `What was found in ${origin.path}` : "What was found"}
      </h2>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      {!finding && !problem && (
        <div className="flex items-center gap-3">
          <progress
            className="progress w-64"
            aria-label="Reading"
            {...(progress ? { value: progress.done, max: progress.of } : {})}
          />
          <span className="figures text-quiet">
            {progress ? `${progress.done} of ${progress.of} read` : "Looking …"}
          </span>
        </div>
      )}
      {progress?.movies.map((words) => (
        <p key={words} className="figures text-quiet">
          {words}
        </p>
      ))}
      <Refused refused={finding?.refused ?? progress?.refused ?? []} />
      {finding && finding.groups.length > 0 ? (
        <Found finding={finding} busy={busy} onTake={take} onLeave={leave} />
      ) : (
        <button type="button" className="btn btn-sm mt-2" onClick={leave}>
          {finding || problem ? "Close" : "Cancel"}
        </button>
      )}
    </section>
  );
}
