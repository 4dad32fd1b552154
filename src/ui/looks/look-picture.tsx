"use client";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { type PictureOrder, type Picture } from "../engine/questions";
import { askThumbnail, smallDivide } from "./thumbnails";

/** A look on a frame, small: made when it comes into sight. */
export function LookPicture({
  order,
  width,
  stretch = 1,
  label,
  onSeen,
}: {
  /** What is to be seen; null while that is not known. */
  order: Omit<PictureOrder, "divide" | "output"> | null;
  /** Of the frame, px. */
  width: number;
  /** How much wider squeezed frames are shown. */
  stretch?: number;
  label: string;
  /** Told when it comes into sight: what is to be seen may be fetched then. */
  onSeen?(): void;
}) {
  const node = useRef<HTMLCanvasElement>(null);
  const [isSeen, setSeen] = useState(false);
  const [picture, setPicture] = useState<Picture | null>(null);
  useEffect(() => {
    const observer = new IntersectionObserver(([entry]) => {
      if (!entry!.isIntersecting) return;
      setSeen(true);
      onSeen?.();
    });
    observer.observe(node.current!);
    return () => observer.disconnect();
  }, []); // eslint-disable-line react-hooks/exhaustive-deps
  const whole = order && { ...order, divide: smallDivide(width), output: { kind: "display" as const } };
  const key = isSeen && whole ? JSON.stringify(whole) : null;
  useEffect(() => {
    if (key !== null) return askThumbnail(whole!, setPicture);
    // The key is the order, whole.
  }, [key]); // eslint-disable-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    const canvas = node.current!;
    if (!picture) return;
    canvas.width = picture.width;
    canvas.height = picture.height;
    const image = new ImageData(picture.pixels, picture.width, picture.height);
    canvas.getContext("2d", { alpha: false })!.putImageData(image, 0, 0);
    canvas.dataset.made = "yes";
  }, [picture]);
  const shape = picture ? (stretch * picture.width) / picture.height : 16 / 9;
  return (
    <canvas
      ref={node}
      role="img"
      aria-label={label}
      className="aspect-video w-full bg-black"
      style={{ objectFit: "fill", aspectRatio: shape }}
    />
  );
}
