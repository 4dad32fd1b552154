"use client";
import { useState } from "react";
import { toast } from "sonner";
import { regionOf, type Region, stepsOf } from "@/core/track/follow";
import { hasFrameOf, type Track } from "@/core/track/track";
import { Knob, Stroke } from "../../viewport/handles/knob";
import type { ViewTransform, Spot } from "../../viewport/place";
import type { Tool } from "../../viewport/viewport";
import { useShownLook } from "../../shot/shown-look";
import { useView } from "../../view/store";
import { tellLost } from "./track-bar";
import { correct } from "./tracking";

/** Regions smaller than this are none, px of the frame. */
const LEAST = 8;
/** A pixel's middle lies half a pixel from its corner. */
const HALF = 0.5;

/** Draws a region: from where the hand presses to where it lets go. */
export const regionTool = (onRegion: (region: Region | "draw") => void): Tool => ({
  press: (from) => {
    const between = (to: Spot): Region => ({
      x: (from.x + to.x) / 2 - HALF,
      y: (from.y + to.y) / 2 - HALF,
      width: Math.abs(to.x - from.x),
      height: Math.abs(to.y - from.y),
    });
    return {
      move: (to) => {
        const region = between(to);
        onRegion(region.width < LEAST || region.height < LEAST ? "draw" : region);
      },
    };
  },
});

/** A region's corners, turned and grown about where it is. */
function cornersOf({ width, height }: Region, at: Spot, rotation: number, scale: number): Spot[] {
  const [c, s] = [Math.cos(rotation) * scale, Math.sin(rotation) * scale];
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([u, v]) => {
    const [x, y] = [(u! * width) / 2, (v! * height) / 2];
    return { x: at.x + x * c - y * s + HALF, y: at.y + x * s + y * c + HALF };
  });
}

/**
 * The region being drawn, or the chosen track: its path, and its region on this frame, which is dragged to set it
 * right.
 */
export function TrackOverlay({ placing }: { placing: ViewTransform }) {
  const { look } = useShownLook();
  const { region, track: id } = useView("region", "track");
  const track = look.tracks?.find((entry) => entry.id === id);
  return (
    <svg role="group" aria-label="Track" className="pointer-events-none absolute inset-0 h-full w-full">
      {region && region !== "draw" && (
        <Stroke placing={placing} points={cornersOf(region, region, 0, 1)} closed broken />
      )}
      {track && <TrackPath key={track.id} track={track} placing={placing} />}
    </svg>
  );
}

function TrackPath({ track, placing }: { track: Track; placing: ViewTransform }) {
  const { shot } = useShownLook();
  const { frame, tracking } = useView("frame", "tracking");
  const [dragged, setDragged] = useState<Spot | null>(null);
  const steps = stepsOf(track, shot.footage);
  const here =
    steps.find((step) => step.frame === frame) ??
    (hasFrameOf(track, frame) ? null : steps.at(frame < track.first ? 0 : -1)!);
  const path = steps.map(({ pose }) => ({ x: pose.x + HALF, y: pose.y + HALF }));
  const at = dragged ?? (here && { x: here.pose.x + HALF, y: here.pose.y + HALF });
  const drop = () => {
    if (!dragged) return;
    correct(shot, track, frame, dragged.x - HALF, dragged.y - HALF)
      .then((lost) => tellLost(lost === null ? [] : [lost]))
      .catch((error: Error) => toast.error(error.message))
      .finally(() => setDragged(null));
  };
  return (
    <g onPointerUp={drop} onKeyUp={drop}>
      <Stroke placing={placing} points={path} thin />
      {at && here && (
        <>
          <Stroke
            placing={placing}
            points={cornersOf(
              regionOf(track, shot.footage),
              { x: at.x - HALF, y: at.y - HALF },
              here.pose.rotation,
              here.pose.scale,
            )}
            closed
            broken={here.frame !== frame}
          />
          {!tracking && (
            <Knob placing={placing} drawn="ring" label={`${track.name} on this frame`} at={at} onDrag={setDragged} />
          )}
        </>
      )}
    </g>
  );
}
