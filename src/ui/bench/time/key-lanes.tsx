"use client";
import { extremesOf } from "@/core/maths/extremes";
import { useRef, useState } from "react";
import type { Path } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { keysAt, type KeyframeRef, movedKeyframes, samePath, stretchedKeyframes } from "@/core/look/timing";
import { describe } from "@/core/look/describe";
import { courseOf, GENERATORS } from "@/core/when/when";
import { timedAt } from "@/core/look/edit";
import { useShownLook } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { type Place, type PressEvent, useDragOver } from "../../shared/drag";
import { useView } from "../../view/store";
import { frameOf, type Lanes, xOf } from "./lanes";

const ROW = 24;
const RADIUS = 4.5;

type Drag =
  | { kind: "move"; from: number; look: Look; keyframes: readonly KeyframeRef[] }
  | { kind: "stretch"; about: number; end: number; look: Look; keyframes: readonly KeyframeRef[] }
  | { kind: "box"; x: number; y: number };

const isIn = (keyframes: readonly KeyframeRef[], { path, frame }: KeyframeRef) =>
  keyframes.some((place) => place.frame === frame && samePath(place.path, path));

/**
 * Keyframes as round marks, a lane a value: picked, also by a box, moved, and stretched by the ends of what is picked.
 */
export function KeyLanes({
  lanes,
  paths,
  picked,
  onPick,
  onChoose,
}: {
  lanes: Lanes;
  paths: readonly Path[];
  picked: readonly KeyframeRef[];
  onPick(places: readonly KeyframeRef[]): void;
  onChoose(path: Path): void;
}) {
  const { look } = useShownLook();
  const { frame } = useView("frame");
  const drawing = useRef<SVGSVGElement>(null);
  const [box, setBox] = useState<{ x0: number; y0: number; x1: number; y1: number } | null>(null);
  const all = paths.flatMap((path, row) =>
    (keysAt(look, path) ?? []).map((key, place) => ({ path, row, place, frame: key.frame })),
  );
  const frames = picked.map((keyframe) => keyframe.frame);
  const { least: first, most: last } = extremesOf(frames);

  const move = (now: Drag, { x, y }: Place) => {
    if (now.kind === "box") return setBox({ x0: now.x, y0: now.y, x1: x, y1: y });
    const to = Math.round(frameOf(x, lanes));
    if (now.kind === "move") {
      const by = to - now.from;
      commit(() => movedKeyframes(now.look, now.keyframes, by));
      return onPick(now.keyframes.map((place) => ({ ...place, frame: place.frame + by })));
    }
    const factor = (to - now.about) / (now.end - now.about || 1);
    if (factor <= 0) return;
    commit(() => stretchedKeyframes(now.look, now.keyframes, now.about, factor));
    onPick(
      now.keyframes.map((place) => ({ ...place, frame: Math.round(now.about + (place.frame - now.about) * factor) })),
    );
  };
  const end = ({ kind }: Drag) => {
    if (kind === "box" && box) {
      const [left, right] = [Math.min(box.x0, box.x1), Math.max(box.x0, box.x1)];
      const [top, bottom] = [Math.min(box.y0, box.y1), Math.max(box.y0, box.y1)];
      onPick(
        all.filter(({ frame: key, row }) => {
          const [x, y] = [xOf(key, lanes), (row + 0.5) * ROW];
          return x >= left && x <= right && y >= top && y <= bottom;
        }),
      );
    } else if (kind === "box") onPick([]);
    setBox(null);
  };
  const bind = useDragOver(drawing, {
    press: (part: (at: Place, event: PressEvent) => Drag, at, event) => part(at, event),
    move,
    end,
  });

  return (
    <svg
      ref={drawing}
      role="group"
      aria-label="Keyframes"
      width={lanes.width}
      height={Math.max(1, paths.length) * ROW}
      className="touch-none select-none"
      {...bind((at: Place): Drag => ({ kind: "box", ...at }))}
    >
      {paths.map((path, row) => {
        const timed = timedAt(look, path);
        const course = timed && courseOf(timed);
        return (
          <g key={path.join(" ")}>
            <line x1={0} x2={lanes.width} y1={(row + 1) * ROW} y2={(row + 1) * ROW} stroke="#2e2e2e" />
            {course && course !== "keys" && (
              <text x={14} y={row * ROW + 16} fontSize={11} fill="#a3a3a3">
                {GENERATORS[course].label}
              </text>
            )}
          </g>
        );
      })}
      {picked.length > 1 && last > first && (
        <g>
          <line x1={xOf(first, lanes)} x2={xOf(last, lanes)} y1={2} y2={2} stroke="var(--color-halo)" />
          {[first, last].map((end) => (
            <rect
              key={end}
              role="button"
              aria-label={end === first ? "Stretch from the first" : "Stretch from the last"}
              x={xOf(end, lanes) - 5}
              y={-1}
              width={10}
              height={8}
              fill="var(--color-halo)"
              className="cursor-ew-resize"
              {...bind((): Drag => ({
                kind: "stretch",
                about: end === first ? last : first,
                end,
                look,
                keyframes: picked,
              }))}
            />
          ))}
        </g>
      )}
      {all.map((key) => {
        const isPicked = isIn(picked, key);
        const { of, label } = describe(look, key.path);
        return (
          <circle
            key={`${key.path.join(" ")} ${key.place}`}
            role="button"
            tabIndex={0}
            aria-label={`${of} ${label}, keyframe at ${key.frame}`}
            aria-pressed={isPicked}
            cx={xOf(key.frame, lanes)}
            cy={(key.row + 0.5) * ROW}
            r={RADIUS}
            fill={isPicked ? "var(--color-halo)" : "#8d8d8d"}
            stroke={isPicked ? "var(--color-halo)" : "#1b1b1b"}
            strokeWidth={1.5}
            className="cursor-grab outline-offset-2"
            onKeyDown={(event) => {
              if (event.key !== "Enter" && event.key !== " ") return;
              event.preventDefault();
              event.stopPropagation();
              onPick(event.shiftKey ? [...picked, key] : [key]);
            }}
            {...bind((_: Place, event: PressEvent): Drag => {
              const keyframes = isPicked ? picked : event.shiftKey ? [...picked, key] : [key];
              onPick(keyframes);
              onChoose(key.path);
              return { kind: "move", from: key.frame, look, keyframes: keyframes };
            })}
          />
        );
      })}
      <line
        x1={xOf(frame, lanes)}
        x2={xOf(frame, lanes)}
        y1={0}
        y2={Math.max(1, paths.length) * ROW}
        stroke="var(--color-halo)"
        pointerEvents="none"
      />
      {box && (
        <rect
          x={Math.min(box.x0, box.x1)}
          y={Math.min(box.y0, box.y1)}
          width={Math.abs(box.x1 - box.x0)}
          height={Math.abs(box.y1 - box.y0)}
          fill="#fff3dc22"
          stroke="var(--color-halo)"
          strokeDasharray="3 3"
        />
      )}
    </svg>
  );
}
