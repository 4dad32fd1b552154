"use client";
import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useMemo, useState } from "react";
import { firstOf, hasFrame, type Ranges } from "@/core/frame/ranges";
import { folderLabel, type ListedRender } from "../../../contract/renders";
import { PairRoom } from "../../compare/pair-room";
import { WayButtons } from "../../compare/way-buttons";
import { api } from "../../shared/api";
import type { Way } from "../../view/compare";
import { type Against, ReferenceField, useAgainst } from "./against";
import { Frames } from "./frames";
import { RenderScopes } from "./scopes";
import { differenceOf, useRendered } from "./rendered";

const MADE_EVERY_MS = 1000;
const NONE: Ranges = [];

interface Props {
  render: ListedRender;
  /** The shot, as people know it. */
  title: string;
  /** Other renders of its shot. */
  others: readonly ListedRender[];
  isEnded: boolean;
  onClose(): void;
}

/** A render where it is: its frames as they come, one of them large, held against something else. */
export function RenderViewer({ render, title, others, isEnded, onClose }: Props) {
  const { data } = useQuery({
    queryKey: ["renders", render.id, "frames", isEnded],
    queryFn: () => api.framesMade(render.id),
    refetchInterval: isEnded ? false : MADE_EVERY_MS,
  });
  const made = data?.made ?? NONE;
  const [chosen, setChosen] = useState<number | null>(null);
  const frame = chosen ?? (made.length ? firstOf(made) : firstOf(render.frames));
  const own = useRendered(hasFrame(made, frame) ? render.id : null, frame);
  const [against, setAgainst] = useState<Against | null>(null);
  const [way, setWay] = useState<Way>("wipe");
  const [times, setTimes] = useState(8);
  const [hasScopes, setScopes] = useState(false);
  const shot = useQuery({ queryKey: ["shot", render.shotId], queryFn: () => api.shot(render.shotId), retry: false });
  const other = useAgainst(against, shot.data ?? null, frame);
  const { picture } = own;
  const difference = useMemo(
    () =>
      way === "difference" && against && picture && other.picture ? differenceOf(picture, other.picture, times) : null,
    [way, against, picture, other.picture, times],
  );
  const extent = picture ?? { width: 16, height: 9 };
  const stretch = shot.data && !shot.data.desqueezed ? shot.data.squeeze : 1;
  const ownName = `Render ${render.id}`;
  const isDifference = against !== null && way === "difference";
  const differenceTag =
    difference || other.busy
      ? `Difference from ${against?.name}, ${times} times, on mid-grey`
      : `${against?.name} has another size: there is no difference to show`;
  return (
    <section aria-label={ownName} aria-busy={own.busy || other.busy} className="flex h-full flex-col">
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-line px-3">
        <h1 className="truncate font-semibold">
          {ownName}: {title}, {render.versionName}
        </h1>
        <span className="figures truncate text-quiet">{folderLabel(render.folder)}</span>
        <span className="ml-auto" />
        <ReferenceField value={against} others={others} hasShot={shot.data !== undefined} onChange={setAgainst} />
        {against && <WayButtons way={way} times={times} onWay={setWay} onTimes={setTimes} />}
        <button
          type="button"
          className={`btn btn-xs ${hasScopes ? "halo" : ""}`}
          aria-pressed={hasScopes}
          onClick={() => setScopes(!hasScopes)}
        >
          Scopes
        </button>
        <button type="button" className="btn btn-xs btn-square" aria-label="Back to the renders" onClick={onClose}>
          <X size={13} />
        </button>
      </div>
      <div className="flex min-h-0 flex-1">
        <PairRoom
          name="rendered"
          own={{ picture: isDifference ? difference : picture, label: ownName }}
          other={against && { picture: other.picture, label: against.name }}
          way={way}
          tag={isDifference ? differenceTag : against ? ownName : null}
          frame={extent}
          stretch={stretch}
        >
          {(own.problem ?? other.problem) && (
            <p role="alert" className="absolute inset-x-0 top-2 text-center text-error">
              {own.problem ?? other.problem}
            </p>
          )}
          {!made.length && (
            <p className="absolute inset-0 grid place-items-center text-quiet">No frame of it is there yet.</p>
          )}
        </PairRoom>
        {hasScopes && (
          <RenderScopes picture={picture} against={against && other.picture} display={render.view.display} />
        )}
      </div>
      <Frames
        render={render.id}
        frames={render.frames}
        made={made}
        rate={render.frameRate}
        aspect={(extent.width * stretch) / extent.height}
        frame={frame}
        onFrame={setChosen}
      />
    </section>
  );
}
