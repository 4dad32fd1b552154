"use client";
import { useEffect, useRef } from "react";
import { waveformOf } from "@/core/scopes/waveform";

const COLUMNS = 360;
const LEVELS = 128;
/** A level that holds this share of its column is drawn at full brightness; the power shows thin lines beside broad areas. */
const FULL_SHARE = 0.12;
const POWER = 0.55;
/** Scale lines, % of full signal. */
const LINES = [0, 25, 50, 75, 100];

/** The waveform of what an image element shows: level against place across the frame, each channel in its colour. */
export function WaveformOfImage({
  image,
  serial,
  label,
}: {
  image: HTMLImageElement | null;
  serial: string;
  label: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const node = canvas.current;
    if (!node || !image?.naturalWidth) return;
    const copy = document.createElement("canvas");
    copy.width = image.naturalWidth;
    copy.height = image.naturalHeight;
    const from = copy.getContext("2d", { willReadFrequently: true })!;
    from.drawImage(image, 0, 0);
    const { data } = from.getImageData(0, 0, copy.width, copy.height);
    const { red, green, blue } = waveformOf(data, copy.width, copy.height, COLUMNS, LEVELS);
    const full = (FULL_SHARE * copy.width * copy.height) / COLUMNS;
    const out = new ImageData(COLUMNS, LEVELS);
    for (let x = 0; x < COLUMNS; x++)
      for (let level = 0; level < LEVELS; level++) {
        const at = ((LEVELS - 1 - level) * COLUMNS + x) * 4;
        [red, green, blue].forEach(
          (plane, c) => (out.data[at + c] = 255 * Math.min(1, plane[x * LEVELS + level]! / full) ** POWER),
        );
        out.data[at + 3] = 255;
      }
    node.getContext("2d")!.putImageData(out, 0, 0);
  }, [image, serial]);
  return (
    <div className="flex gap-1" role="img" aria-label={label}>
      <div className="figures relative w-9 text-right text-quiet" aria-hidden>
        {LINES.map((line) => (
          <span key={line} className="absolute right-0 -translate-y-1/2 leading-none" style={{ top: `${100 - line}%` }}>
            {line}
          </span>
        ))}
      </div>
      <div className="relative h-28 flex-1 bg-black">
        <canvas ref={canvas} width={COLUMNS} height={LEVELS} className="absolute inset-0 h-full w-full" />
        {LINES.map((line) => (
          <span
            key={line}
            className="absolute inset-x-0 h-px bg-white/15"
            style={{ top: `calc(${100 - line}% - ${line === 0 ? 1 : 0}px)` }}
            aria-hidden
          />
        ))}
      </div>
      <span className="w-6 text-quiet" aria-hidden>
        %
      </span>
    </div>
  );
}
