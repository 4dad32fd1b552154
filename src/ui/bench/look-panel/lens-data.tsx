"use client";
import { FileUp, Film } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { withLensData } from "@/core/look/edit";
import { type LensRow, readLensData } from "@/core/when/lens-data";
import { api } from "../../shared/api";
import { useShownLook } from "../../shot/shown-look";
import { commitLater } from "../../shot/document";

/** Takes in how the lens was set frame by frame: from a file, or from the footage's own headers. */
export function LensDataFields() {
  const { shot } = useShownLook();
  const file = useRef<HTMLInputElement>(null);
  const [told, setTold] = useState<string[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const put = (rows: LensRow[], notes: string[], change: ReturnType<typeof commitLater>) => {
    change((look) => withLensData(look, rows));
    setProblem(null);
    setTold(notes);
    toast(`The lens goes by ${rows.length === 1 ? "one frame" : `${rows.length} frames`} of lens data`);
  };
  const read = async (chosen: File) => {
    const change = commitLater();
    const { frames, frameRate, footage } = shot;
    try {
      const { rows, told: notes } = readLensData(await chosen.text(), {
        first: firstOf(frames),
        last: lastOf(frames),
        frameRate,
        timeCode: footage.timeCode,
      });
      put(rows, notes, change);
    } catch (error) {
      setProblem(`${chosen.name}: ${(error as Error).message}`);
    }
  };
  // Headers of a long shot take a while: what is no longer waited for is not read.
  const reading = useRef<AbortController | null>(null);
  useEffect(() => () => reading.current?.abort(), []);
  const fromFootage = async () => {
    const change = commitLater();
    reading.current?.abort();
    reading.current = new AbortController();
    const { rows, sensor } = await api.lensData(shot.id, reading.current.signal);
    if (!rows.length) return setProblem("The footage’s own headers say nothing of the lens");
    put(rows, sensor ? [`the headers name a sensor of ${sensor.width} × ${sensor.height} mm`] : [], change);
  };
  return (
    <div role="group" aria-label="Lens data" className="flex flex-col gap-1">
      <div className="flex items-center gap-1">
        <span className="mr-auto">Lens data</span>
        <button type="button" className="btn btn-xs" onClick={() => file.current!.click()}>
          <FileUp size={12} /> From a file
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            fromFootage().catch((error: Error) => error.name !== "AbortError" && setProblem(error.message))
          }
        >
          <Film size={12} /> From the footage
        </button>
        <input
          ref={file}
          type="file"
          accept=".csv,.json,.txt"
          className="hidden"
          aria-label="A file of lens data"
          onChange={(event) => {
            const [chosen] = event.target.files ?? [];
            if (chosen) void read(chosen);
            event.target.value = "";
          }}
        />
      </div>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      {told.map((line) => (
        <p key={line} className="text-quiet">
          {line}
        </p>
      ))}
    </div>
  );
}
