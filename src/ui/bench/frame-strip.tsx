"use client";
import { useMemo } from "react";
import { keyFramesOf, timedPaths } from "@/core/look/timing";
import { ChartSpline, Pause, Play, StepBack, StepForward, X } from "lucide-react";
import { countOf, firstOf, frameAt, framesIn, hasFrame, indexOfFrame, lastOf } from "@/core/frame/ranges";
import { later, readTimeCode, timeCodeText } from "@/core/frame/time-code";
import { useDocument } from "../shot/document";
import { setView, useView } from "../view/store";
import { placesIn } from "../pictures/transport";
import { usePlayed } from "../pictures/played";
import type { ShotDetail } from "../../contract/shots";

/** The footage's own time code at a frame; counted from nothing where it has none. */
function timeCodeAt({ footage, frames, frameRate }: ShotDetail, frame: number): { text: string; isOwn: boolean } {
  const own = footage.timeCode === null ? null : readTimeCode(footage.timeCode, frameRate);
  if (own) return { text: timeCodeText(later(own, frame - firstOf(footage.frames)), frameRate), isOwn: true };
  const counted = { frames: Math.max(0, indexOfFrame(frames, frame)), drop: false };
  return { text: timeCodeText(counted, frameRate), isOwn: false };
}

/** Frames up to which each has a mark of its own. */
const MAX_MARKS = 240;

/** The frames of the shot: scrub, step, play. */
export function FrameStrip({ shot }: { shot: ShotDetail }) {
  const look = useDocument((state) => state.look);
  const { selected, frame, playing, span, speed, timeDrawer } = useView(
    "selected",
    "frame",
    "playing",
    "span",
    "speed",
    "timeDrawer",
  );
  const rate = usePlayed((state) => state.rate);
  const ready = usePlayed((state) => state.ready);
  const keyed = useMemo(
    () => (look ? keyFramesOf(look, timedPaths(look, selected ?? undefined)) : []),
    [look, selected],
  );
  const { frames } = shot;
  const count = countOf(frames);
  const index = Math.max(0, indexOfFrame(frames, frame));
  const step = (by: number) => setView({ frame: frameAt(frames, (index + by + count) % count)!, playing: false });
  const code = timeCodeAt(shot, frame);
  const single = count < 2;
  const [first, last] = placesIn(frames, span);
  const way = speed === 1 ? "" : `${speed < 0 ? "−" : ""}${Math.abs(speed)}× `;
  const told = rate === null ? "making ready" : `${way}${rate.toFixed(1)} of ${Number(shot.frameRate.toFixed(2))} fps`;
  const isMaking = shot.progress < 1;
  const rateText = playing ? told : isMaking ? `computing, ${Math.round(100 * shot.progress)} %` : "";
  const isThere = (number: number) => !shot.made || hasFrame(shot.made, number);
  const markOf = (number: number, i: number) => {
    if (i === index) return "bg-halo";
    if (!isThere(number)) return "h-1 self-center bg-[#303030]";
    if (ready.has(number)) return "bg-[#b5b5b5]";
    return i % shot.frameRate === 0 ? "bg-[#6a6a6a]" : "bg-[#404040]";
  };
  return (
    <section aria-label="Frames" className="flex h-9 shrink-0 items-center gap-2 border-t border-line px-3">
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label="Frame before"
        disabled={single}
        onClick={() => step(-1)}
      >
        <StepBack size={13} />
      </button>
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label={playing ? "Stop" : "Play"}
        disabled={single}
        onClick={() => setView({ playing: !playing, speed: 1 })}
      >
        {playing ? <Pause size={13} /> : <Play size={13} />}
      </button>
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label="Frame after"
        disabled={single}
        onClick={() => step(1)}
      >
        <StepForward size={13} />
      </button>
      <div className="relative flex h-full flex-1 items-center">
        <div className="pointer-events-none absolute inset-x-[4.5px] inset-y-1.5 flex justify-between" aria-hidden>
          {count <= MAX_MARKS &&
            [...framesIn(frames)].map((number, i) => (
              <span key={number} className={`w-px ${i < first || i > last ? "opacity-30" : ""} ${markOf(number, i)}`} />
            ))}
        </div>
        <div className="pointer-events-none absolute inset-x-[4.5px] top-0.5 h-2" aria-hidden>
          {keyed
            .map((number) => indexOfFrame(frames, number))
            .filter((index) => index >= 0)
            .map((index) => (
              <span
                key={index}
                className="absolute size-1.5 -translate-x-1/2 rounded-full bg-halo"
                style={{ left: `${(100 * index) / Math.max(1, count - 1)}%` }}
              />
            ))}
        </div>
        <input
          type="range"
          className="track relative"
          aria-label="Frame"
          aria-valuetext={`frame ${frame}`}
          min={0}
          max={Math.max(0, count - 1)}
          step={1}
          value={index}
          disabled={single}
          onChange={(event) => setView({ frame: frameAt(frames, Number(event.target.value))!, playing: false })}
        />
      </div>
      <button
        type="button"
        className={`btn btn-xs ${timeDrawer ? "halo" : ""}`}
        aria-pressed={timeDrawer}
        title="Time drawer (T)"
        onClick={() => setView({ timeDrawer: !timeDrawer })}
      >
        <ChartSpline size={12} /> Time
      </button>
      {span && (
        <button
          type="button"
          className="btn btn-xs"
          title="Play the whole shot"
          onClick={() => setView({ span: null })}
          aria-label={`In ${frameAt(frames, first)}, out ${frameAt(frames, last)}: play the whole shot`}
        >
          <span className="figures">
            {frameAt(frames, first)} to {frameAt(frames, last)}
          </span>
          <X size={11} />
        </button>
      )}
      <output
        aria-label="Rate of playing"
        className={`figures text-right whitespace-nowrap text-quiet ${playing ? "w-32" : isMaking ? "w-32" : ""}`}
      >
        {rateText}
      </output>
      <span className="figures min-w-56 shrink-0 text-right whitespace-nowrap">
        frame {frame} ({firstOf(frames)}-{lastOf(frames)}){" "}
        <span
          className={code.isOwn ? "" : "text-quiet"}
          title={code.isOwn ? "Time code of the footage" : "Counted from the first frame: the footage has no time code"}
        >
          {code.text}
        </span>
      </span>
    </section>
  );
}
