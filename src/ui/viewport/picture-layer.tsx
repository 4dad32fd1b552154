"use client";
import { useLayoutEffect, useRef } from "react";
import { type Picture } from "../engine/questions";
import type { Extent, ViewTransform } from "./place";

interface Props {
  picture: Picture | null;
  /** What is seen where the picture does not reach. */
  under?: Picture | null;
  /** Names it for tests and for who cannot see it. */
  name: string;
  label: string;
  frame: Extent;
  placing: ViewTransform;
}

/** Frame pixels on the screen, in each direction, from which single pixels are shown as such. */
const PIXELS_FROM = 2;

/** A picture of the engine, laid where its frame lies whatever its own size is. */
export function PictureLayer({ under = null, ...props }: Props) {
  return (
    <>
      {under && <Pixels {...props} picture={under} name={`under-${props.name}`} />}
      <Pixels {...props} />
    </>
  );
}

function Pixels({ picture, name, label, frame, placing }: Omit<Props, "under">) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const node = canvas.current;
    if (!node || !picture) return;
    if (node.width !== picture.width || node.height !== picture.rows) {
      node.width = picture.width;
      node.height = picture.rows;
    }
    node
      .getContext("2d", { alpha: false })!
      .putImageData(new ImageData(picture.pixels, picture.width, picture.rows), 0, 0);
    node.dataset.serial = String(Number(node.dataset.serial ?? 0) + 1);
    node.dataset.divide = String(picture.divide);
    node.dataset.milliseconds = picture.milliseconds.toFixed(0);
  }, [picture]);
  const { left, top, scaleX, scaleY } = placing;
  const [x, y] = picture ? [(frame.width * scaleX) / picture.width, (frame.height * scaleY) / picture.height] : [1, 1];
  const isLarge = scaleY * (typeof devicePixelRatio === "number" ? devicePixelRatio : 1) >= PIXELS_FROM;
  return (
    <canvas
      ref={canvas}
      data-picture={name}
      aria-label={label}
      role="img"
      className="absolute top-0 left-0 origin-top-left"
      style={{
        transform: `translate(${left}px, ${top + (picture?.top ?? 0) * y}px) scale(${x}, ${y})`,
        imageRendering: isLarge && picture?.divide === 1 ? "pixelated" : "auto",
      }}
    />
  );
}
