"use client";
import { ArrowLeftToLine, ArrowRightToLine, MoveHorizontal, X } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import type { TrackModel } from "@/core/track/track";
import { useShownLook } from "../../shot/shown-look";
import { setView, useView } from "../../view/store";
import { cancelTracking, type Direction, trackRegion } from "./tracking";

const DIRECTIONS: readonly { direction: Direction; label: string; icon: React.ReactNode }[] = [
  { direction: "back", label: "To the start", icon: <ArrowLeftToLine size={13} /> },
  { direction: "both", label: "Both ways", icon: <MoveHorizontal size={13} /> },
  { direction: "on", label: "To the end", icon: <ArrowRightToLine size={13} /> },
];

/** Tells where something was lost. */
export const tellLost = (lost: readonly number[]) => {
  if (lost.length)
    toast.warning(`Lost at frame ${lost.join(" and ")}: drag the track right there, and it goes on from there`);
};

/** What a region is followed by, and whereto; while it goes on, how far it is. */
export function TrackBar() {
  const { shot } = useShownLook();
  const { region, tracking } = useView("region", "tracking");
  const [model, setModel] = useState<TrackModel>("position");
  if (tracking)
    return (
      <div
        role="status"
        aria-label="Following"
        className="absolute bottom-2 left-2 flex items-center gap-2 rounded bg-black/75 px-2 py-1"
      >
        <span className="figures">
          Following, frame {tracking.frame}: {tracking.done} of {tracking.of}, sure to{" "}
          {(100 * tracking.confidence).toFixed(0)} %
        </span>
        <button type="button" className="btn btn-xs" onClick={cancelTracking}>
          Cancel
        </button>
      </div>
    );
  if (!region) return null;
  if (region === "draw")
    return (
      <p className="absolute bottom-2 left-2 rounded bg-black/75 px-2 py-1">
        Draw a region round what is to be followed.{" "}
        <button type="button" className="link" onClick={() => setView({ region: null })}>
          Not now
        </button>
      </p>
    );
  const begin = (direction: Direction) =>
    trackRegion(shot, region, model, direction)
      .then(({ lost }) => tellLost(lost))
      .catch((error: Error) => toast.error(error.message));
  return (
    <div
      role="group"
      aria-label="Follow the region"
      className="absolute bottom-2 left-2 flex items-center gap-2 rounded bg-black/75 px-2 py-1"
    >
      <select
        className="select select-xs w-52"
        aria-label="What is followed"
        value={model}
        onChange={(event) => setModel(event.target.value as TrackModel)}
      >
        <option value="position">Its position</option>
        <option value="similarity">Position, turning and growing</option>
      </select>
      {DIRECTIONS.map(({ direction, label, icon }) => (
        <button key={direction} type="button" className="btn btn-xs" onClick={() => void begin(direction)}>
          {icon} {label}
        </button>
      ))}
      <button
        type="button"
        className="btn btn-xs btn-square"
        aria-label="Leave the region"
        onClick={() => setView({ region: null })}
      >
        <X size={13} />
      </button>
    </div>
  );
}
