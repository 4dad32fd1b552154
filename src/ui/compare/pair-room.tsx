"use client";
import { type ReactNode, useState } from "react";
import type { Picture } from "../engine/questions";
import { UPRIGHT, type Way } from "../view/compare";
import { PictureLayer } from "../viewport/picture-layer";
import { type Extent, type Looking, type ViewTransform, WHOLE } from "../viewport/place";
import { type Sight, Viewport } from "../viewport/viewport";
import { wipeClip, WipeEdge, wipeTool } from "./wipe";

export interface PairedPicture {
  picture: Picture | null;
  under?: Picture | null;
  /** As people know it. */
  label: string;
}

interface Props {
  /** Names the pictures for tests: this, and this with "other" behind it. */
  name: string;
  /** What is seen; where the difference is, it is that. */
  own: PairedPicture;
  /** What it is held against; null where nothing is. */
  other: PairedPicture | null;
  way: Way | null;
  /** The other is seen alone for as long as this lasts. */
  isHeld?: boolean;
  /** What stands in the corner of the first picture; null for nothing. */
  tag: string | null;
  frame: Extent;
  stretch: number;
  onSight?(sight: Sight): void;
  /** What lies over the first picture. */
  children?: ReactNode;
}

const Tag = ({ text }: { text: string }) => (
  <span className="pointer-events-none absolute bottom-1 left-1 rounded bg-black/60 px-1.5">{text}</span>
);

/** Two pictures of one frame, zoomed and panned together: wiped, side by side, or the one in the other's place. */
export function PairRoom({ name, own, other, way, isHeld = false, tag, frame, stretch, onSight, children }: Props) {
  const [line, setLine] = useState(UPRIGHT);
  const [looking, setLooking] = useState<Looking>(WHOLE);
  const wiping = { line, onLine: setLine };
  const isWipe = other !== null && way === "wipe" && !isHeld;
  const layer = ({ picture, under, label }: PairedPicture, of: string, placing: ViewTransform) => (
    <PictureLayer picture={picture} under={under} name={of} label={label} frame={frame} placing={placing} />
  );
  const room = (content: (placing: ViewTransform) => ReactNode, hasEdge: boolean) => (
    <div className="relative min-w-0 flex-1 overflow-hidden bg-[#101010]">
      <Viewport
        frame={frame}
        stretch={stretch}
        looking={looking}
        onLooking={setLooking}
        tools={hasEdge ? [wipeTool(wiping, frame)] : []}
        onHover={() => {}}
        onDoubleClick={() => setLooking(WHOLE)}
        onSight={onSight}
      >
        {content}
      </Viewport>
    </div>
  );
  return (
    <div className="flex min-h-0 flex-1 gap-px">
      {room(
        (placing) => (
          <>
            {layer(own, name, placing)}
            {other && (isHeld || isWipe) && (
              <div
                className="absolute inset-0"
                style={{ clipPath: isWipe ? wipeClip(line, frame, placing) : undefined }}
              >
                {layer(other, `${name} other`, placing)}
              </div>
            )}
            {isWipe && <WipeEdge {...wiping} name={other.label} ownName={own.label} frame={frame} placing={placing} />}
            {!isWipe && tag !== null && <Tag text={tag} />}
            {children}
          </>
        ),
        isWipe,
      )}
      {other &&
        way === "side" &&
        !isHeld &&
        room(
          (placing) => (
            <>
              {layer(other, `${name} other`, placing)}
              <Tag text={other.label} />
            </>
          ),
          false,
        )}
    </div>
  );
}
