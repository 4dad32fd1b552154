"use client";
import Link from "next/link";
import { type MouseEvent, useMemo, useState } from "react";
import type { ListedWorn } from "@/contract/looks";
import { countOf, firstOf, frameAt, lastOf } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { sourceFor } from "../pictures/use-source";
import { useKeptLook } from "../looks/kept-look";
import { LookPicture } from "../looks/look-picture";
import { useGlassOf } from "../looks/use-glass-of";
import { useLibrary } from "../looks/use-library";
import { useEncodingLabel } from "../shared/encodings";
import { shotTitle } from "../shared/production";
import type { Shot } from "../../contract/shots";

/** Frames of a shot that a hover goes through at most: enough to see it move, few enough to load. */
const MAX_STEPS = 24;

export const framesLabel = ({ frames }: Shot) =>
  countOf(frames) === 1 ? "still" : `${countOf(frames)} frames, ${firstOf(frames)} to ${lastOf(frames)}`;

/** A frame of a shot; moving across it goes through the shot. */
export function Scrubbed({ shot, className = "" }: { shot: Shot; className?: string }) {
  const { frames } = shot;
  const count = countOf(frames);
  const [at, setAt] = useState<number | null>(null);
  const scrub = (event: MouseEvent<HTMLElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const steps = Math.min(MAX_STEPS, count);
    const step = Math.min(steps - 1, Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * steps)));
    setAt(Math.round((step * (count - 1)) / Math.max(1, steps - 1)));
  };
  const shown = at ?? count >> 1;
  return (
    <span className={`relative block ${className}`} onMouseMove={scrub} onMouseLeave={() => setAt(null)}>
      <img
        src={`/api/shots/${shot.id}/thumbnail?frame=${frameAt(frames, shown)}&encoding=${encodeURIComponent(shot.encoding)}&is=${shot.gaps}`}
        alt={`A frame of ${shot.name}`}
        draggable={false}
        loading="lazy"
        className="aspect-video w-full bg-black object-contain"
        style={
          shot.squeeze !== 1 && !shot.desqueezed
            ? { transform: `scaleX(${Math.min(1, shot.squeeze)}) scaleY(${Math.min(1, 1 / shot.squeeze)})` }
            : undefined
        }
      />
      {at !== null && count > 1 && (
        <>
          <span
            className="absolute bottom-0 h-0.5 bg-halo"
            style={{ left: 0, width: `${(100 * shown) / (count - 1)}%` }}
            aria-hidden
          />
          <span className="figures absolute right-1 bottom-1 rounded bg-black/65 px-1">{frameAt(frames, shown)}</span>
        </>
      )}
    </span>
  );
}

/** The tables that looks are seen through. */
const tablesOf = (worn: readonly ListedWorn[]): string[] => [
  ...new Set(worn.flatMap(({ table }) => (table ? [table] : []))),
];

/** The middle frame of a shot with the look it wears. */
function Worn({ shot, revision, shots }: { shot: Shot; revision: number; shots: readonly Shot[] }) {
  const [isSeen, setSeen] = useState(false);
  const look = useKeptLook({ in: "shot", id: shot.id, revision }, isSeen);
  const { frames } = shot;
  const frame = frameAt(frames, countOf(frames) >> 1)!;
  return (
    <LookPicture
      order={look ? { ...sourceFor(shot, look, shots), look, frame } : null}
      onSeen={() => setSeen(true)}
      width={shot.footage.width}
      stretch={shot.desqueezed ? 1 : shot.squeeze}
      label={`${shot.name} with its look`}
    />
  );
}

interface Props {
  shots: Shot[];
  selected: ReadonlySet<string>;
  /** Whether shots are shown with the looks they wear. */
  withLooks: boolean;
  onSelect(id: string, more: boolean): void;
}

/** Shots as pictures. */
export function ContactSheet({ shots, selected, withLooks, onSelect }: Props) {
  const encodingLabel = useEncodingLabel();
  const library = useLibrary();
  const worn = useMemo(
    () => (withLooks ? new Map((library?.worn ?? []).map((entry) => [entry.shotId, entry])) : null),
    [withLooks, library],
  );
  const isReady = useGlassOf(useMemo(() => worn && tablesOf([...worn.values()]), [worn]));
  return (
    <ul aria-label="Shots" className="grid grid-cols-[repeat(auto-fill,minmax(248px,1fr))] gap-4">
      {shots.map((shot) => {
        const { width, height, format, depth } = shot.footage;
        const isSelected = selected.has(shot.id);
        return (
          <li
            key={shot.id}
            className={`overflow-hidden rounded-md border border-line bg-base-200 [contain-intrinsic-size:auto_245px] [content-visibility:auto] ${isSelected ? "halo" : ""}`}
          >
            <button
              type="button"
              className="block w-full cursor-pointer text-left"
              aria-pressed={isSelected}
              aria-label={`Select ${shotTitle(shot)}`}
              onClick={(event) => onSelect(shot.id, event.shiftKey || event.ctrlKey || event.metaKey)}
            >
              {worn?.has(shot.id) && isReady && shot.progress > 0 ? (
                <Worn shot={shot} revision={worn.get(shot.id)!.revision} shots={shots} />
              ) : shot.progress > 0.99 ? (
                <Scrubbed shot={shot} />
              ) : (
                <span className="grid aspect-video place-items-center bg-[#101010] text-quiet">
                  <span>
                    Being computed, <span className="figures">{Math.round(100 * shot.progress)} %</span>
                  </span>
                </span>
              )}
            </button>
            <div className="flex flex-col gap-0.5 px-3 py-2">
              <p className="flex items-baseline gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs self-center"
                  aria-label={`Add ${shotTitle(shot)} to the selection`}
                  checked={isSelected}
                  onChange={() => onSelect(shot.id, true)}
                />
                <Link
                  prefetch={false}
                  href={`/bench/${shot.id}`}
                  aria-label={`Open ${shot.name} on the Bench`}
                  className="min-w-0 truncate font-semibold hover:underline"
                >
                  {shotTitle(shot)}
                </Link>
              </p>
              <p className="figures text-quiet">{framesLabel(shot)}</p>
              <p className="figures text-quiet">
                {width} × {height}, {format}, {depthLabel(depth)}
              </p>
              <p className="truncate text-quiet" title={encodingLabel(shot.encoding)}>
                {encodingLabel(shot.encoding)}
              </p>
            </div>
          </li>
        );
      })}
    </ul>
  );
}
