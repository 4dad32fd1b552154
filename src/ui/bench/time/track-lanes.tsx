"use client";
import { useShownLook } from "../../shot/shown-look";
import { type Lanes, xOf } from "./lanes";

const HEIGHT = 22;

/** How sure each track is, frame by frame; where it was set by hand is marked. */
export function TrackLanes({ lanes, labels }: { lanes: Lanes; labels: number }) {
  const { look } = useShownLook();
  return (
    <>
      {(look.tracks ?? []).map(({ id, name, first, confidence, corrected = [] }) => (
        <div key={id} className="grid" style={{ gridTemplateColumns: `${labels}px 1fr` }}>
          <span className="truncate px-3 leading-[22px]" title={`Track ${name}: how sure it is`}>
            <span className="text-quiet">Track</span> {name}
          </span>
          <svg width={lanes.width} height={HEIGHT} role="img" aria-label={`Confidence of the track ${name}`}>
            {confidence.map((sure, i) => (
              <rect
                key={i}
                x={xOf(first + i, lanes) - 1.5}
                y={HEIGHT - 2 - sure * (HEIGHT - 5)}
                width={3}
                height={2 + sure * (HEIGHT - 5)}
                fill={sure < 0.5 ? "#e0b45c" : "#8d8d8d"}
              />
            ))}
            {corrected.map((frame) => (
              <circle key={frame} cx={xOf(frame, lanes)} cy={5} r={3} fill="var(--color-halo)" />
            ))}
          </svg>
        </div>
      ))}
    </>
  );
}
