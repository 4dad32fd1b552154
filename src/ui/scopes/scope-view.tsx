"use client";
import { useEffect, useRef } from "react";
import { COLUMNS, LEVELS, VECTORS } from "@/core/compile/outputs/scopes";
import { type ScopeCounts, vectorOf } from "@/core/scopes/count";
import { blank, drawVectors, drawWaveform, FAINT, heightsOf, TRACE } from "./draw";
import { Along, Graticule } from "./graticule";
import type { Mark } from "./marks";

/** What a scope draws: the picture's counts, and faintly those of what it is compared with. */
export interface Counted {
  counts: ScopeCounts | null;
  reference: ScopeCounts | null;
}

/** Draws an image onto a canvas whenever what it is drawn from changes. */
function Drawn({
  width,
  height,
  label,
  draw,
}: {
  width: number;
  height: number;
  label: string;
  draw(image: ImageData): void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext("2d", { alpha: false });
    if (!context) return;
    const image = blank(width, height);
    draw(image);
    context.putImageData(image, 0, 0);
    const node = canvas.current!;
    node.dataset.serial = String(Number(node.dataset.serial ?? 0) + 1);
  });
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      role="img"
      aria-label={label}
      className="absolute inset-0 h-full w-full"
    />
  );
}

const WAVEFORM_HEIGHT = 132;

/** Level against place across the frame: of luma, or of the channels over one another. */
export function Waveform({
  counts,
  reference,
  marks,
  luma,
  label = "Waveform",
}: Counted & { marks: readonly Mark[]; luma: boolean; label?: string }) {
  const planes = luma ? (["luma"] as const) : (["red", "green", "blue"] as const);
  return (
    <Graticule marks={marks} height={WAVEFORM_HEIGHT}>
      <Drawn
        width={COLUMNS}
        height={LEVELS}
        label={label}
        draw={(image) => {
          for (const [of, strength] of [
            [reference, FAINT],
            [counts, 1],
          ] as const)
            for (const plane of planes)
              if (of) drawWaveform(image, of[plane], of.pixels, TRACE[plane], { left: 0, columns: COLUMNS, strength });
        }}
      />
    </Graticule>
  );
}

const GAP = 4;
const EACH = Math.floor((COLUMNS - 2 * GAP) / 3);

/** The channels' waveforms, one beside the other. */
export function Parade({ counts, reference, marks }: Counted & { marks: readonly Mark[] }) {
  return (
    <Graticule marks={marks} height={WAVEFORM_HEIGHT}>
      <Drawn
        width={COLUMNS}
        height={LEVELS}
        label="Parade"
        draw={(image) => {
          for (const [of, strength] of [
            [reference, FAINT],
            [counts, 1],
          ] as const)
            (["red", "green", "blue"] as const).forEach((plane, i) => {
              const band = { left: i * (EACH + GAP), columns: EACH, strength };
              if (of) drawWaveform(image, of[plane], of.pixels, TRACE[plane], band);
            });
        }}
      />
    </Graticule>
  );
}

/** The display's primaries and their mixtures, at 75 and 100 % of signal. */
const TARGETS = [
  ["R", 1, 0, 0],
  ["Yl", 1, 1, 0],
  ["G", 0, 1, 0],
  ["Cy", 0, 1, 1],
  ["B", 0, 0, 1],
  ["Mg", 1, 0, 1],
] as const;
const TARGET_LEVELS = [0.75, 1] as const;
/** Skin of every shade lies near this direction, degrees from the blue axis. */
const SKIN_ANGLE = (123 * Math.PI) / 180;

const toX = (blue: number) => (blue + 0.5) * VECTORS;
const MARK = 3.5;
const inside = (place: number) => Math.min(VECTORS - MARK - 1, Math.max(MARK + 1, place));
const toY = (red: number) => (0.5 - red) * VECTORS;

/** Colour differences of the signal: hue as direction, saturation as distance from the middle. */
export function Vectorscope({ counts, reference }: Counted) {
  const middle = VECTORS / 2;
  return (
    <div className="relative mx-auto aspect-square w-[196px] overflow-hidden bg-black">
      <Drawn
        width={VECTORS}
        height={VECTORS}
        label="Vectorscope"
        draw={(image) => {
          for (const [of, strength] of [
            [reference, FAINT],
            [counts, 1],
          ] as const)
            if (of?.vectors) drawVectors(image, of.vectors, of.pixels, strength);
        }}
      />
      <svg viewBox={`0 0 ${VECTORS} ${VECTORS}`} className="absolute inset-0" aria-hidden>
        <g stroke="#ffffff" strokeOpacity="0.22" fill="none">
          <circle cx={middle} cy={middle} r={middle - 1} />
          <path d={`M${middle} 0V${VECTORS}M0 ${middle}H${VECTORS}`} strokeOpacity="0.12" />
          <line
            x1={middle}
            y1={middle}
            x2={middle + Math.cos(SKIN_ANGLE) * middle}
            y2={middle - Math.sin(SKIN_ANGLE) * middle}
            stroke="#f0c8a0"
            strokeOpacity="0.6"
          />
        </g>
        {TARGETS.map(([name, r, g, b]) =>
          TARGET_LEVELS.map((level) => {
            const [blue, red] = vectorOf(r * level, g * level, b * level);
            // A full signal reaches the edge: its mark stands whole beside it.
            const [x, y] = [inside(toX(blue)), inside(toY(red))];
            return (
              <g key={`${name} ${level}`}>
                <rect
                  x={x - MARK}
                  y={y - MARK}
                  width={2 * MARK}
                  height={2 * MARK}
                  fill="none"
                  stroke="#ffffff"
                  strokeOpacity="0.5"
                />
                {level < 1 && (
                  <text
                    x={x + (x < middle ? -7 : 7)}
                    y={y + 3}
                    fontSize="9"
                    fill="#bdbdbd"
                    textAnchor={x < middle ? "end" : "start"}
                  >
                    {name}
                  </text>
                )}
              </g>
            );
          }),
        )}
      </svg>
    </div>
  );
}

const HISTOGRAM_HEIGHT = 84;

/** How often each level occurs, by channel. */
export function Histogram({ counts, reference, marks }: Counted & { marks: readonly Mark[] }) {
  const lines = (of: ScopeCounts, strength: number) =>
    (["red", "green", "blue"] as const).map((plane) => {
      const points = heightsOf(of[plane], (counts ?? of).luma).map((height, level) => `${level},${(1 - height) * 100}`);
      const colour = `rgb(${TRACE[plane].join(" ")})`;
      return (
        <polygon
          key={`${plane} ${strength}`}
          points={`0,100 ${points.join(" ")} ${LEVELS - 1},100`}
          fill={strength === 1 ? colour : "none"}
          fillOpacity="0.35"
          stroke={colour}
          strokeOpacity={strength}
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
      );
    });
  return (
    <div>
      <div className="relative overflow-hidden bg-black" style={{ height: HISTOGRAM_HEIGHT }}>
        <svg
          viewBox={`0 0 ${LEVELS - 1} 100`}
          preserveAspectRatio="none"
          className="absolute inset-0 h-full w-full"
          role="img"
          aria-label="Histogram"
          style={{ mixBlendMode: "screen" }}
        >
          {reference && lines(reference, FAINT)}
          {counts && lines(counts, 1)}
        </svg>
      </div>
      <Along marks={marks} />
    </div>
  );
}
