/** Frames of renders as a display shows them, asked of the server and kept for a while. */
import { LRUCache } from "lru-cache";
import { useEffect, useState } from "react";
import type { Picture } from "../../engine/questions";

/** Frames that are kept: at 1920 x 1080 each is 8 MB. */
const MAX_KEPT = 24;
const kept = new LRUCache<string, Promise<Picture>>({ max: MAX_KEPT });

async function fetched(render: number, frame: number): Promise<Picture> {
  const start = performance.now();
  const response = await fetch(`/api/renders/${render}/frames/${frame}`);
  if (!response.ok)
    throw new Error(((await response.json()) as { error?: string }).error ?? `The server answered ${response.status}`);
  const width = Number(response.headers.get("x-width"));
  const height = Number(response.headers.get("x-height"));
  const pixels = new Uint8ClampedArray(await response.arrayBuffer());
  return { width, height, top: 0, rows: height, divide: 1, pixels, milliseconds: performance.now() - start };
}

/** A frame of a render; asked for once, however many want it. One that failed may be asked for again. */
export function renderedFrame(render: number, frame: number): Promise<Picture> {
  const key = `${render} ${frame}`;
  const before = kept.get(key);
  if (before) return before;
  const asked = fetched(render, frame);
  kept.set(key, asked);
  asked.catch(() => kept.delete(key));
  return asked;
}

export interface Rendered {
  /** The frame, or the one before it until it is there. */
  picture: Picture | null;
  problem: string | null;
  busy: boolean;
}
const NOTHING = { picture: null, problem: null, of: "" };

/** Keeps a frame of a render current; null: none is wanted. */
export function useRendered(render: number | null, frame: number): Rendered {
  const key = `${render} ${frame}`;
  const [shown, setShown] = useState<Omit<Rendered, "busy"> & { of: string }>(NOTHING);
  useEffect(() => {
    if (render === null) return;
    let isWanted = true;
    renderedFrame(render, frame).then(
      (picture) => isWanted && setShown({ picture, problem: null, of: key }),
      (error: Error) => isWanted && setShown({ picture: null, problem: error.message, of: key }),
    );
    return () => {
      isWanted = false;
    };
  }, [render, frame, key]);
  return render === null ? { ...NOTHING, busy: false } : { ...shown, busy: shown.of !== key };
}

/** 8-bit code of the grey that no difference is shown as. */
const MIDDLE = 128;

/** How one picture differs from another of its size, so many times, on mid-grey; null where their sizes differ. */
export function differenceOf(one: Picture, other: Picture, times: number): Picture | null {
  if (one.width !== other.width || one.height !== other.height || one.rows !== other.rows) return null;
  const pixels = new Uint8ClampedArray(one.pixels.length);
  for (let i = 0; i < pixels.length; i++)
    pixels[i] = (i & 3) === 3 ? 255 : MIDDLE + times * (one.pixels[i]! - other.pixels[i]!);
  return { ...one, pixels };
}
