"use client";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { HighlightKey } from "@/core/elements/definition";
import { lightAt } from "@/core/colour/grey";
import { KEY_STOPS, takenLight } from "@/core/elements/key";
import { upTo } from "@/core/look/excerpt";
import { BIN_COUNT, FROM_STOPS, stopsOfBin, TO_STOPS } from "@/core/scopes/light-histogram";
import { useChannel } from "../../engine/engine";
import { PRIORITY } from "../../engine/questions";
import { useShownLook } from "../../shot/shown-look";
import { useView } from "../../view/store";
import { useSource } from "../../pictures/use-source";
import { useDragOver } from "../../shared/drag";

const WIDTH = 320;
const HEIGHT = 96;
const BELOW = 16;
/** The histogram is counted on a frame so many times smaller, when the look has rested so long, ms. */
const DIVIDE = 4;
const REST = 250;
const STEP = 0.1;
const FAR = 1;

/** The histogram of the frame's light where the element stands on the path; null until it is counted. */
function useHistogram(id: string, judged: HighlightKey["channel"]): number[] | null {
  const { shot, look } = useShownLook();
  const { restingFrame: frame, playing } = useView("restingFrame", "playing");
  const channel = useChannel(PRIORITY.read);
  const source = useSource(shot, look);
  const [bins, setBins] = useState<number[] | null>(null);
  const before = upTo(look, id);
  const key = JSON.stringify([source, before, frame, judged]);
  useEffect(() => {
    if (playing) return;
    const timer = setTimeout(() => {
      channel().ask("histogram", { ...source, look: before, frame, divide: DIVIDE, judged }, setBins);
    }, REST);
    return () => clearTimeout(timer);
    // The key is the order, whole.
  }, [channel, key, playing]); // eslint-disable-line react-hooks/exhaustive-deps
  return bins;
}

const toX = (stops: number) => ((stops - FROM_STOPS) / (TO_STOPS - FROM_STOPS)) * WIDTH;
const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));

/**
 * The frame's light in stops, what a key takes of it tinted, and threshold, knee and limit as lines that are dragged.
 */
export function WhichLight({
  id,
  taken,
  onSet,
}: {
  id: string;
  taken: HighlightKey;
  onSet(name: "threshold" | "knee" | "limit", value: number): void;
}) {
  const bins = useHistogram(id, taken.channel);
  const drawing = useRef<SVGSVGElement>(null);
  const most = Math.log1p(Math.max(1, ...(bins ?? [])));
  const { threshold, knee, limit } = taken;
  const put = (name: "threshold" | "knee" | "limit", stops: number) => {
    const value =
      name === "threshold"
        ? clamp(stops, KEY_STOPS.threshold.min, KEY_STOPS.threshold.max)
        : name === "limit"
          ? clamp(stops, KEY_STOPS.limit.min, KEY_STOPS.limit.max)
          : clamp(2 * Math.abs(stops - threshold), KEY_STOPS.knee.min, KEY_STOPS.knee.max);
    onSet(name, Number(value.toFixed(2)));
  };
  const bind = useDragOver(drawing, {
    press: (name: "threshold" | "knee" | "limit") => name,
    move: (name, { x }) =>
      put(name, FROM_STOPS + (x / drawing.current!.getBoundingClientRect().width) * (TO_STOPS - FROM_STOPS)),
  });
  const lines = [
    { name: "knee", at: threshold + knee / 2, value: knee, label: "Knee", dash: "2 3" },
    { name: "limit", at: limit, value: limit, label: "Upper limit", dash: "6 4" },
    { name: "threshold", at: threshold, value: threshold, label: "Threshold", dash: undefined },
  ] as const;
  const onKeyDown = (event: KeyboardEvent, name: (typeof lines)[number]["name"], at: number) => {
    if (event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
    event.preventDefault();
    event.stopPropagation();
    put(name, at + (event.key === "ArrowLeft" ? -1 : 1) * (event.shiftKey ? FAR : STEP));
  };
  const width = WIDTH / BIN_COUNT;
  return (
    <figure>
      <figcaption className="flex justify-between px-1 text-quiet">
        <span>Light of this frame, here on the path</span>
        <span className="text-halo">taken</span>
      </figcaption>
      <svg
        ref={drawing}
        role="group"
        aria-label="Histogram of the frame’s light, in stops from mid-grey"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="w-full touch-none rounded bg-base-100 select-none"
      >
        {bins?.map((count, i) => {
          const stops = stopsOfBin(i);
          const height = (Math.log1p(count) / most) * (HEIGHT - BELOW - 4);
          const share = Math.min(1, takenLight(taken, lightAt(stops)) / lightAt(stops));
          return (
            <g key={i}>
              <rect x={i * width} y={HEIGHT - BELOW - height} width={width + 0.3} height={height} fill="#5a5a5a" />
              {share > 0 && (
                <rect
                  x={i * width}
                  y={HEIGHT - BELOW - height}
                  width={width + 0.3}
                  height={height}
                  fill="var(--color-halo)"
                  fillOpacity={0.15 + 0.75 * share}
                />
              )}
            </g>
          );
        })}
        {[-8, -4, 0, 4, 8, 12].map((stops) => (
          <text key={stops} x={toX(stops)} y={HEIGHT - 3} fontSize={9} textAnchor="middle" fill="#a3a3a3">
            {stops}
            {stops === 12 ? " stops" : ""}
          </text>
        ))}
        {lines.map(({ name, at, value, label, dash }) => (
          <g
            key={name}
            role="slider"
            tabIndex={0}
            aria-label={`${label} on the histogram`}
            aria-valuenow={value}
            aria-valuetext={`${value.toFixed(1)} stops`}
            className="cursor-ew-resize"
            onKeyDown={(event) => onKeyDown(event, name, at)}
            {...bind(name)}
          >
            <title>{`${label}: ${value.toFixed(1)} stops`}</title>
            <rect x={toX(at) - 5} y={0} width={10} height={HEIGHT - BELOW} fill="transparent" />
            <line
              x1={toX(at)}
              x2={toX(at)}
              y1={0}
              y2={HEIGHT - BELOW}
              stroke="var(--color-halo)"
              strokeWidth={1.5}
              strokeDasharray={dash}
            />
          </g>
        ))}
      </svg>
    </figure>
  );
}
