"use client";
import type { Handle, HandleFrame, Moved } from "@/core/handles/handle";
import type { ViewTransform } from "../place";
import { LinesOnPicture } from "./lines";
import {
  AngleOnPicture,
  type HandleProps,
  PlacingOnPicture,
  PointOnPicture,
  PolygonOnPicture,
  RadiusOnPicture,
} from "./places";

/** A handle with the values it stands for, as they are at this frame. */
export interface ShownHandle {
  id: string;
  handle: Handle;
  values: Record<string, unknown>;
  limits(name: string): { min: number; max: number };
  onMove(moved: Moved): void;
}

function OnPicture({ handle, ...rest }: HandleProps<Handle>) {
  switch (handle.kind) {
    case "point":
      return <PointOnPicture {...rest} handle={handle} />;
    case "lines":
      return <LinesOnPicture {...rest} handle={handle} />;
    case "polygon":
      return <PolygonOnPicture {...rest} handle={handle} />;
    case "angle":
      return <AngleOnPicture {...rest} handle={handle} />;
    case "radius":
      return <RadiusOnPicture {...rest} handle={handle} />;
    case "placing":
      return <PlacingOnPicture {...rest} handle={handle} />;
  }
}

/** Everything that is dragged on the picture, drawn over it: a solid line is full effect, a broken one none. */
export function Handles({
  handles,
  frame,
  stretch,
  placing,
}: {
  handles: readonly ShownHandle[];
  frame: HandleFrame;
  stretch: number;
  placing: ViewTransform;
}) {
  return (
    <svg role="group" aria-label="Handles" className="pointer-events-none absolute inset-0 h-full w-full">
      {handles.map(({ id, ...shown }) => (
        <OnPicture key={id} {...shown} frame={frame} stretch={stretch} placing={placing} />
      ))}
    </svg>
  );
}
