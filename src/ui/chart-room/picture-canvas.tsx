"use client";
import { useEffect, useRef } from "react";
import type { ViewTransform } from "../viewport/place";

/** Screen px a pixel from which pixels are shown as squares. */
const PIXELS_FROM = 2;

/** A picture in its room. */
export function PictureCanvas({
  bitmap,
  placing,
  label,
}: {
  bitmap: ImageBitmap;
  placing: ViewTransform;
  label: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const node = canvas.current!;
    node.width = bitmap.width;
    node.height = bitmap.height;
    node.getContext("2d")!.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  const { left, top, scaleX, scaleY } = placing;
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      className="absolute origin-top-left"
      style={{
        transform: `translate(${left}px, ${top}px) scale(${scaleX}, ${scaleY})`,
        imageRendering: scaleX >= PIXELS_FROM ? "pixelated" : "auto",
      }}
    />
  );
}
