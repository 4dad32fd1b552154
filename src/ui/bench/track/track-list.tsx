"use client";
import { Crosshair, Trash2 } from "lucide-react";
import { withoutTrack, withTrack } from "@/core/look/tracks";
import type { Track } from "@/core/track/track";
import { useShownLook } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { setView, useView } from "../../view/store";

/** The look's tracks: chosen, named, removed; and a new one begun. */
export function TrackList() {
  const { look } = useShownLook();
  const { track: chosen, region } = useView("track", "region");
  const rename = (track: Track, name: string) => commit((now) => withTrack(now, { ...track, name }));
  return (
    <section aria-label="Tracks" className="flex flex-col gap-1.5">
      <h3 className="flex items-center gap-2 border-b border-line pt-1 font-semibold">
        Tracks
        <button
          type="button"
          className={`btn btn-xs ml-auto font-normal ${region ? "halo" : ""}`}
          aria-pressed={region !== null}
          onClick={() => setView({ region: region ? null : "draw", picking: null, playing: false })}
        >
          <Crosshair size={11} /> Follow something
        </button>
      </h3>
      {!look.tracks?.length && (
        <p className="text-quiet">Areas, points and the steadying of the shot go along with what is followed.</p>
      )}
      {look.tracks?.map((track) => (
        <div key={track.id} className={`flex items-center gap-2 rounded px-1 ${chosen === track.id ? "halo" : ""}`}>
          <input
            className="min-w-0 flex-1 rounded bg-transparent px-1 focus:bg-base-300"
            aria-label={`Name of ${track.name}`}
            value={track.name}
            onChange={(event) => event.target.value && rename(track, event.target.value)}
          />
          <span className="figures text-quiet">
            {track.first} to {track.first + track.x.length - 1}
          </span>
          <button
            type="button"
            className="btn btn-xs"
            aria-pressed={chosen === track.id}
            onClick={() => setView({ track: chosen === track.id ? null : track.id })}
          >
            {chosen === track.id ? "Shown" : "Show"}
          </button>
          <button
            type="button"
            className="btn btn-xs btn-square"
            aria-label={`Remove ${track.name}`}
            onClick={() => {
              commit((now) => withoutTrack(now, track.id));
              if (chosen === track.id) setView({ track: null });
            }}
          >
            <Trash2 size={11} />
          </button>
        </div>
      ))}
    </section>
  );
}
