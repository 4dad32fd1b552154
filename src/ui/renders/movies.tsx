"use client";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { MOVIE_CODINGS, type DeliverOrder, type DeliverReport, type MovieCoding } from "../movies/messages";
import { countOf } from "@/core/frame/ranges";
import { type ListedRender, MOVIE_TYPES } from "../../contract/renders";

const CODEC_STRINGS: Record<MovieCoding, string> = {
  "webm-vp9": "vp09.00.40.08",
  "mp4-av1": "av01.0.08M.08",
  "mp4-avc": "avc1.640028",
};

/** The kinds this browser can make; asked once. */
const makeable = async (): Promise<MovieCoding[]> => {
  if (typeof VideoEncoder === "undefined") return [];
  const kinds = Object.keys(MOVIE_CODINGS) as MovieCoding[];
  const answers = await Promise.all(
    kinds.map((kind) =>
      VideoEncoder.isConfigSupported({ codec: CODEC_STRINGS[kind], width: 1280, height: 720 }).then(
        ({ supported }) => supported ?? false,
        () => false,
      ),
    ),
  );
  return kinds.filter((_, i) => answers[i]);
};

/**
 * Movies of a finished render: made in this browser, at constant quality where the codec has it, and kept beside its
 * frames.
 */
export function Movies({ render, onMade }: { render: ListedRender; onMade(): void }) {
  const kinds = useQuery({ queryKey: ["movie-kinds"], queryFn: makeable, staleTime: Infinity });
  const worker = useRef<Worker | null>(null);
  const [done, setDone] = useState<number | null>(null);
  const isMovie = render.format in MOVIE_TYPES;
  useEffect(() => () => worker.current?.terminate(), []);
  const stop = () => {
    worker.current?.terminate();
    worker.current = null;
    setDone(null);
  };
  const make = async (kind: MovieCoding) => {
    const running = new Worker("/engine/movie-out.js");
    worker.current = running;
    setDone(0);
    running.addEventListener("message", ({ data }: MessageEvent<DeliverReport>) => {
      if (data.kind === "frame") return setDone(data.done);
      stop();
      if (data.kind === "failed") toast.error(`The movie was not made: ${data.reason}`);
      else {
        toast(`${data.file} is made`);
        onMade();
      }
    });
    const transfer = render.view.display === "bt1886" || render.encoding === "rec709" ? "bt709" : "iec61966-2-1";
    running.postMessage({
      render: render.id,
      frames: render.frames,
      framesPerSecond: render.frameRate,
      kind,
      transfer,
    } satisfies DeliverOrder);
  };
  if (done !== null)
    return (
      <span className="flex items-center gap-2">
        <progress className="progress w-24" aria-label="Making the movie" value={done} max={countOf(render.frames)} />
        <button type="button" className="btn btn-xs" onClick={stop}>
          Cancel
        </button>
      </span>
    );
  return (
    <span className="flex flex-wrap items-center gap-2">
      {!isMovie && kinds.data && kinds.data.length > 0 && (
        <select
          className="select select-xs w-36"
          aria-label={`Make a movie of render ${render.id}`}
          value=""
          onChange={(event) =>
            event.target.value &&
            void make(event.target.value as MovieCoding).catch((error: Error) => toast.error(error.message))
          }
        >
          <option value="">Make a movie …</option>
          {kinds.data.map((kind) => (
            <option key={kind} value={kind}>
              {MOVIE_CODINGS[kind].label}
            </option>
          ))}
        </select>
      )}
      {render.movies.map((file) => (
        <a
          key={file}
          className="link figures"
          href={`/api/renders/${render.id}/movie?kind=${file.split(".").at(-1)}`}
          download={file}
        >
          {file}
        </a>
      ))}
    </span>
  );
}
