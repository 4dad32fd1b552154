"use client";
import { type KeyboardEvent, useEffect, useRef } from "react";
import { chromaOf, colourAt } from "@/core/colour/chroma";
import { whiteGains, WHITE_LIMITS } from "@/core/colour/daylight";
import { type Place, useDragOver } from "./drag";

export type Colour = readonly [number, number, number];

const SHOWN_GAMMA = 2.2;
const LEAST = 1e-6;
/** Near white there is more room than near the edge: the distance on the disc is this power of the chroma's. */
const ROOM = 0.5;
/** Moved by an arrow key, and with Shift, shares of the disc's radius. */
const STEP = 0.01;
const FAR = 0.1;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** Code values of a colour of light, as bright as it can be shown. */
export function shownCodes(colour: Colour, brightest = Math.max(...colour, LEAST)): [number, number, number] {
  return colour.map((value) => Math.round(255 * Math.max(0, value / brightest) ** (1 / SHOWN_GAMMA))) as [
    number,
    number,
    number,
  ];
}

/** How a colour of light looks, as bright as it can be shown. */
export function Swatch({ colour, label }: { colour: Colour; label?: string }) {
  return (
    <span
      className="inline-block h-5 w-8 shrink-0 rounded border border-line"
      style={{ background: `rgb(${shownCodes(colour).join(" ")})` }}
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    />
  );
}

/** Where a chroma lies on the disc (shares of its radius, y downwards), and back. `reach`: the chroma at its edge. */
const toDisc = ({ u, v }: { u: number; v: number }, reach: number) => {
  const far = Math.hypot(u, v);
  const scale = far ? (far / reach) ** ROOM / far : 0;
  return { x: u * scale, y: -v * scale };
};
const fromDisc = ({ x, y }: { x: number; y: number }, reach: number) => {
  const far = Math.hypot(x, y);
  const clamped = Math.min(1, far);
  const scale = far ? (reach * clamped ** (1 / ROOM)) / far : 0;
  return { u: x * scale, v: -y * scale };
};

interface Props {
  label: string;
  colour: Colour;
  /** px */
  size: number;
  /** Chroma at the disc's edge: 1 reaches the primaries. */
  reach?: number;
  onChange(colour: [number, number, number]): void;
}

/** A disc of chromaticity round the working white: the colour is dragged on it, its amount is kept. */
export function ColourDisc({ label, colour, size, reach = 1, onChange }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const area = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const context = canvas.current!.getContext("2d")!;
    const image = context.createImageData(size, size);
    for (let py = 0; py < size; py++)
      for (let px = 0; px < size; px++) {
        const [x, y] = [(2 * (px + 0.5)) / size - 1, (2 * (py + 0.5)) / size - 1];
        const away = Math.hypot(x, y);
        const edge = Math.min(1, Math.max(0, ((1 - away) * size) / 2));
        const codes = shownCodes(colourAt({ ...fromDisc({ x, y }, reach), amount: 1 }));
        image.data.set([...codes.map((code) => 40 + code * 0.62), 255 * edge], (py * size + px) * 4);
      }
    context.putImageData(image, 0, 0);
  }, [size, reach]);
  const chroma = chromaOf(colour);
  const place = toDisc(chroma, reach);
  const set = (to: { x: number; y: number }) =>
    onChange(
      colourAt({ ...fromDisc(to, reach), amount: chroma.amount || 1 }).map((value) => Number(value.toFixed(4))) as [
        number,
        number,
        number,
      ],
    );
  const move = ({ x, y }: Place) => set({ x: (2 * x) / size - 1, y: (2 * y) / size - 1 });
  const bind = useDragOver(area, {
    press: (_: void, at) => {
      move(at);
      return true;
    },
    move: (_, at) => move(at),
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const way = ARROWS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    const by = event.shiftKey ? FAR : STEP;
    set({ x: place.x + way[0] * by, y: place.y + way[1] * by });
  };
  return (
    <span
      ref={area}
      className="relative inline-block touch-none"
      style={{ width: size, height: size }}
      onDoubleClick={() => set({ x: 0, y: 0 })}
      {...bind()}
    >
      <canvas ref={canvas} width={size} height={size} aria-hidden className="cursor-crosshair" />
      <span
        role="button"
        tabIndex={0}
        aria-label={`${label} on the disc: ${colour.map((value) => value.toFixed(2)).join(", ")}`}
        className="absolute size-3 -translate-1/2 rounded-full border-2 border-[#111] bg-halo"
        style={{ left: ((place.x + 1) * size) / 2, top: ((place.y + 1) * size) / 2 }}
        onKeyDown={onKeyDown}
      />
    </span>
  );
}

/** Steps the strip of temperatures is searched in, mired. */
const SEARCH = 2;

/** The daylight nearest to a colour's chroma, mired from working white. */
function nearestMired(colour: Colour): number {
  const { u, v } = chromaOf(colour);
  const [low, high] = WHITE_LIMITS.mired;
  let [best, least] = [0, Infinity];
  for (let mired = low; mired <= high; mired += SEARCH) {
    const at = chromaOf(whiteGains(mired, 0));
    const apart = Math.hypot(at.u - u, at.v - v);
    if (apart < least) [best, least] = [mired, apart];
  }
  return best;
}

/** A strip of temperatures along daylight; the amount is kept. */
export function TemperatureStrip({ label, colour, onChange }: Omit<Props, "size" | "reach">) {
  const [low, high] = WHITE_LIMITS.mired;
  const mired = nearestMired(colour);
  const stops = Array.from({ length: 9 }, (_, i) => {
    const codes = shownCodes(whiteGains(low + ((high - low) * i) / 8, 0));
    return `rgb(${codes.join(" ")})`;
  });
  return (
    <label className="flex flex-col gap-0.5">
      <span className="flex justify-between text-quiet">
        <span>Cooler</span>
        <span className="figures">
          {mired > 0 ? "+" : ""}
          {mired} mired
        </span>
        <span>Warmer</span>
      </span>
      <input
        type="range"
        className="track h-3 rounded"
        style={{ background: `linear-gradient(to right, ${stops.join(", ")})` }}
        aria-label={`${label}, temperature`}
        aria-valuetext={`${mired} mired from working white`}
        min={low}
        max={high}
        step={1}
        value={mired}
        onChange={(event) => {
          const { u, v } = chromaOf(whiteGains(Number(event.target.value), 0));
          const { amount } = chromaOf(colour);
          onChange(
            colourAt({ u, v, amount: amount || 1 }).map((value) => Number(value.toFixed(4))) as [
              number,
              number,
              number,
            ],
          );
        }}
      />
    </label>
  );
}
