"use client";
import { ChevronLeft, ChevronRight, Clipboard, Copy, Trash2, X } from "lucide-react";
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { describe } from "@/core/look/describe";
import type { Path } from "@/core/look/edit";
import {
  copiedKeyframes,
  type KeyClip,
  keyFramesOf,
  type KeyframeRef,
  movedKeyframes,
  pastedKeyframes,
  samePath,
  timedPaths,
  withEase,
  withoutKeyframes,
} from "@/core/look/timing";
import { type Ease, EASES } from "@/core/when/keyframes";
import { useShownLook } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { setView, useView } from "../../view/store";
import { Course } from "./course";
import { KeyLanes } from "./key-lanes";
import type { Lanes } from "./lanes";
import { ruled, xOf, frameOf } from "./lanes";
import { TrackLanes } from "./track-lanes";
import { GeneratorFields } from "./generator-fields";
import { type Place, useDragOver } from "../../shared/drag";

const LABELS = 248;

/** Goes to the keyframe before or after the frame that is shown, of some values. */
function useStep(frames: number[]) {
  const { frame } = useView("frame");
  const before = frames.findLast((entry) => entry < frame);
  const after = frames.find((entry) => entry > frame);
  return { before, after, go: (to: number | undefined) => to !== undefined && setView({ frame: to, playing: false }) };
}

/** The lanes' width, as the room gives it. */
function useWidth() {
  const node = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    observer.observe(node.current!);
    return () => observer.disconnect();
  }, []);
  return { place: node, width };
}

/** The frames opened up: a row for everything that is timed, its keyframes, and the course of the chosen one. */
export function TimeDrawer() {
  const { look, shot } = useShownLook();
  const { selected, frame } = useView("selected", "frame");
  const [all, setAll] = useState(true);
  const [chosen, setChosen] = useState<Path | null>(null);
  const [picked, setPicked] = useState<readonly KeyframeRef[]>([]);
  const [clip, setClip] = useState<KeyClip>([]);
  const paths = useMemo(() => timedPaths(look, all ? undefined : selected), [look, all, selected]);
  const path = chosen && paths.some((entry) => samePath(entry, chosen)) ? chosen : (paths[0] ?? null);
  const { before, after, go } = useStep(keyFramesOf(look, paths));
  const { place, width } = useWidth();
  const lanes: Lanes = { first: firstOf(shot.frames), last: lastOf(shot.frames), width };
  // What is gone is not picked any more.
  const there = picked.filter((key) => keyFramesOf(look, [key.path]).includes(key.frame));

  const remove = () => {
    commit((now) => withoutKeyframes(now, there));
    setPicked([]);
  };
  const copy = () => setClip(copiedKeyframes(look, there));
  const paste = () => {
    commit((now) => {
      const pasted = pastedKeyframes(now, clip, frame);
      setPicked(pasted.places);
      return pasted.look;
    });
  };
  const nudge = (by: number) => {
    commit((now) => movedKeyframes(now, there, by));
    setPicked(there.map((key) => ({ ...key, frame: key.frame + by })));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const isTyped = event.target instanceof HTMLInputElement && event.target.type !== "range";
    if (isTyped || event.target instanceof HTMLTextAreaElement || !(there.length || clip.length)) return;
    const controlled = event.ctrlKey || event.metaKey;
    const done =
      (event.key === "Delete" || event.key === "Backspace") && there.length
        ? remove
        : event.key === "ArrowLeft" && there.length
          ? () => nudge(-1)
          : event.key === "ArrowRight" && there.length
            ? () => nudge(1)
            : controlled && event.key === "c" && there.length
              ? copy
              : controlled && event.key === "v" && clip.length
                ? paste
                : null;
    if (!done) return;
    event.preventDefault();
    event.stopPropagation();
    done();
  };

  return (
    <section aria-label="Time drawer" className="flex h-full flex-col bg-base-200" onKeyDown={onKeyDown}>
      <div className="flex h-8 shrink-0 items-center gap-1.5 border-b border-line px-3">
        <div role="group" aria-label="Rows" className="join">
          {[true, false].map((every) => (
            <button
              key={String(every)}
              type="button"
              className={`btn btn-xs join-item ${all === every ? "btn-primary" : ""}`}
              aria-pressed={all === every}
              onClick={() => setAll(every)}
            >
              {every ? "Everything timed" : "Selected element"}
            </button>
          ))}
        </div>
        <IconButton label="Keyframe before" disabled={before === undefined} onClick={() => go(before)}>
          <ChevronLeft size={13} />
        </IconButton>
        <IconButton label="Keyframe after" disabled={after === undefined} onClick={() => go(after)}>
          <ChevronRight size={13} />
        </IconButton>
        <span className="figures ml-2 w-24 text-quiet">{there.length ? `${there.length} selected` : ""}</span>
        <select
          className="select select-xs w-52"
          aria-label="Interpolation of the selected keyframes"
          disabled={!there.length}
          value=""
          onChange={(event) => commit((now) => withEase(now, there, event.target.value as Ease))}
        >
          <option value="">Interpolation</option>
          {Object.entries(EASES).map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
        <IconButton label="Copy the selected keyframes" disabled={!there.length} onClick={copy}>
          <Copy size={12} />
        </IconButton>
        <IconButton label="Paste keyframes at this frame" disabled={!clip.length} onClick={paste}>
          <Clipboard size={12} />
        </IconButton>
        <IconButton label="Remove the selected keyframes" disabled={!there.length} onClick={remove}>
          <Trash2 size={12} />
        </IconButton>
        <span className="ml-auto">
          <IconButton label="Close the time drawer" onClick={() => setView({ timeDrawer: false })}>
            <X size={13} />
          </IconButton>
        </span>
      </div>
      <div className="flex min-h-0 flex-1 flex-col">
        <div className="grid h-[18px] shrink-0" style={{ gridTemplateColumns: `${LABELS}px 1fr` }}>
          <span />
          <div ref={place} className="relative overflow-hidden">
            <Ruler lanes={lanes} />
          </div>
        </div>
        <div className="flex min-h-0 flex-1 flex-col overflow-y-auto">
          <div className="min-h-12 flex-1 overflow-y-auto">
            <div className="grid" style={{ gridTemplateColumns: `${LABELS}px 1fr` }}>
              <ul aria-label="Timed values">
                {paths.map((entry) => {
                  const { of, label } = describe(look, entry);
                  const isChosen = path !== null && samePath(entry, path);
                  return (
                    <li key={entry.join(" ")} className="h-6">
                      <button
                        type="button"
                        aria-pressed={isChosen}
                        className={`h-6 w-full truncate px-3 text-left ${isChosen ? "bg-base-300 text-halo" : ""}`}
                        title={`${of}: ${label}`}
                        onClick={() => {
                          setChosen(entry);
                          if (entry[0] !== null) setView({ selected: entry[0] });
                        }}
                      >
                        <span className="text-quiet">{of}</span> {label}
                      </button>
                    </li>
                  );
                })}
              </ul>
              <KeyLanes lanes={lanes} paths={paths} picked={there} onPick={setPicked} onChoose={setChosen} />
            </div>
            {!paths.length && (
              <p className="px-3 py-1 text-quiet">
                Nothing is timed {all ? "in this look" : "in this element"} yet. Press the ring beside a value to set
                its first keyframe.
              </p>
            )}
            <TrackLanes lanes={lanes} labels={LABELS} />
          </div>
          {/* Where no value has a course, the lanes of tracks have the room. */}
          {path && (
            <div className="grid h-24 shrink-0 border-t border-line" style={{ gridTemplateColumns: `${LABELS}px 1fr` }}>
              <GeneratorFields key={path.join(" ")} path={path} />
              <Course lanes={lanes} path={path} />
            </div>
          )}
        </div>
      </div>
    </section>
  );
}

function IconButton({
  label,
  disabled,
  onClick,
  children,
}: {
  label: string;
  disabled?: boolean;
  onClick(): void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      className="btn btn-xs btn-square"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

/** Frame numbers over the lanes; a press, or a drag, goes there. */
function Ruler({ lanes }: { lanes: Lanes }) {
  const { frame } = useView("frame");
  const { shot } = useShownLook();
  const drawing = useRef<SVGSVGElement>(null);
  const go = ({ x }: Place) => {
    const wanted = Math.round(frameOf(x, lanes));
    const to = Math.min(lastOf(shot.frames), Math.max(firstOf(shot.frames), wanted));
    setView({ frame: to, playing: false });
  };
  const bind = useDragOver(drawing, {
    press: (_: void, at) => {
      go(at);
      return true;
    },
    move: (_, at) => go(at),
  });
  return (
    <svg
      ref={drawing}
      width={lanes.width}
      height={18}
      className="cursor-ew-resize touch-none select-none"
      aria-hidden
      {...bind()}
    >
      {ruled(lanes).map((number) => (
        <g key={number} transform={`translate(${xOf(number, lanes)} 0)`}>
          <line y1={12} y2={18} stroke="#6a6a6a" />
          <text y={10} textAnchor="middle" fontSize={10} fill="#a3a3a3" className="figures">
            {number}
          </text>
        </g>
      ))}
      <line x1={xOf(frame, lanes)} x2={xOf(frame, lanes)} y1={0} y2={18} stroke="var(--color-halo)" />
    </svg>
  );
}
