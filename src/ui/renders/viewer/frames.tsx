"use client";
import { Pause, Play, StepBack, StepForward } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { countOf, frameAt, framesIn, hasFrame, indexOfFrame, type Ranges } from "@/core/frame/ranges";
import { renderedFrame } from "./rendered";

/** Frames up to which each has a mark of its own. */
const MAX_MARKS = 240;
/** Frames that are asked for before they are shown. */
const AHEAD = 3;

interface Props {
  render: number;
  frames: Ranges;
  /** Those that are there. */
  made: Ranges;
  /** Frames a second. */
  rate: number;
  /** Width of a frame by its height. */
  aspect: number;
  frame: number;
  onFrame(frame: number): void;
}

/** The frames of a render as they come: pictures and marks that fill, steps, and playing of what is there. */
export function Frames({ render, frames, made, rate, aspect, frame, onFrame }: Props) {
  const [isPlaying, setPlaying] = useState(false);
  const index = indexOfFrame(frames, frame);
  const place = indexOfFrame(made, frame);
  const there = countOf(made);
  const step = (by: number) => there && onFrame(frameAt(made, (Math.max(0, place) + by + there) % there)!);
  useEffect(() => {
    if (!isPlaying || there < 2) return;
    const shownAt = performance.now();
    let isOn = true;
    const next = frameAt(made, (place + 1) % there)!;
    for (let ahead = 2; ahead <= AHEAD; ahead++)
      renderedFrame(render, frameAt(made, (place + ahead) % there)!).catch(() => {});
    // Every frame is shown: one that is late is waited for.
    void renderedFrame(render, next)
      .catch(() => null)
      .then(() => {
        const wait = Math.max(0, 1000 / rate - (performance.now() - shownAt));
        setTimeout(() => isOn && onFrame(next), wait);
      });
    return () => {
      isOn = false;
    };
  }, [isPlaying, frame]); // eslint-disable-line react-hooks/exhaustive-deps -- each frame begins the wait for the next
  const button = (label: string, icon: React.ReactNode, act: () => void) => (
    <button type="button" className="btn btn-xs btn-square" aria-label={label} title={label} onClick={act}>
      {icon}
    </button>
  );
  const numbers = countOf(frames) <= MAX_MARKS ? [...framesIn(frames)] : [];
  return (
    <section
      aria-label="Frames of the render"
      className="flex h-14 shrink-0 items-center gap-2 border-t border-line px-3"
    >
      {button("One frame back", <StepBack size={13} />, () => step(-1))}
      {button(isPlaying ? "Pause" : "Play", isPlaying ? <Pause size={13} /> : <Play size={13} />, () =>
        setPlaying(!isPlaying),
      )}
      {button("One frame on", <StepForward size={13} />, () => step(1))}
      <div className="relative flex h-12 min-w-0 flex-1 flex-col gap-px">
        <Pictures render={render} frames={frames} made={made} aspect={aspect} />
        <div className="flex h-1.5 items-stretch gap-px" aria-hidden="true">
          {numbers.map((number) => (
            <span
              key={number}
              className={`flex-1 ${number === frame ? "bg-halo" : hasFrame(made, number) ? "bg-[#8a8a8a]" : "bg-[#303030]"}`}
            />
          ))}
        </div>
        <input
          type="range"
          className="absolute inset-0 w-full cursor-pointer opacity-0 focus-visible:opacity-40"
          aria-label="Frame"
          min={0}
          max={countOf(frames) - 1}
          value={Math.max(0, index)}
          aria-valuetext={`frame ${frame}`}
          onChange={({ target }) => {
            const wanted = frameAt(frames, Number(target.value))!;
            if (hasFrame(made, wanted)) onFrame(wanted);
          }}
        />
      </div>
      <output className="figures w-56 text-right whitespace-nowrap text-quiet">
        frame {frame}, {there} of {countOf(frames)} are there
      </output>
    </section>
  );
}

/** Height of a picture in the strip, CSS px. */
const PICTURE_HEIGHT = 40;

/** Small pictures of frames over the whole render, as many as there is room for; each where its frame is. */
function Pictures({ render, frames, made, aspect }: Pick<Props, "render" | "frames" | "made" | "aspect">) {
  const strip = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(0);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    observer.observe(strip.current!);
    return () => observer.disconnect();
  }, []);
  const total = countOf(frames);
  const count = Math.min(total, Math.floor(room / (PICTURE_HEIGHT * aspect)));
  const shown = Array.from({ length: count }, (_, i) => frameAt(frames, Math.floor(((i + 0.5) * total) / count))!);
  return (
    <div ref={strip} className="flex min-h-0 flex-1 gap-px overflow-hidden" aria-hidden="true">
      {shown.map((number) => (
        <span key={number} className="flex min-w-0 flex-1 justify-center bg-base-300">
          {hasFrame(made, number) && (
            <img
              src={`/api/renders/${render}/frames/${number}/thumbnail`}
              alt=""
              draggable={false}
              fetchPriority="low"
              className="h-full"
              style={{ aspectRatio: aspect }}
            />
          )}
        </span>
      ))}
    </div>
  );
}
