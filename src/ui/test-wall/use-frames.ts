import { Zip, ZipPassThrough } from "fflate";
import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import type { Wall } from "@/core/wall/axis";
import { tileFileName } from "@/core/wall/file-name";
import { useChannel } from "../engine/engine";
import { type Picture, type PictureOrder, PRIORITY } from "../engine/questions";
import { saveFile } from "../shared/download";

/** A frame that is still being computed is asked for again after this, ms. */
const RETRY_AFTER = 1000;
/** Times it is asked for again: half a minute. */
const MAX_TRIES = 30;

/** A picture's code values as a PNG of 8 bits. */
async function pngOf({ pixels, width, height }: Picture): Promise<Uint8Array<ArrayBuffer>> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext("2d")!.putImageData(new ImageData(pixels, width, height), 0, 0);
  return new Uint8Array(await (await canvas.convertToBlob({ type: "image/png" })).arrayBuffer());
}

/** Files one after another as one zip, which is given as they are added. */
function zipOf(): { add(name: string, bytes: Uint8Array): void; end(): Blob } {
  const parts: BlobPart[] = [];
  const zip = new Zip((error, bytes) => {
    if (error) throw error;
    parts.push(new Blob([bytes as Uint8Array<ArrayBuffer>]));
  });
  return {
    add(name, bytes) {
      // Pictures are packed already.
      const entry = new ZipPassThrough(name);
      zip.add(entry);
      entry.push(bytes, true);
    },
    end() {
      zip.end();
      return new Blob(parts);
    },
  };
}

export interface WallFrames {
  /** How many frames are made of how many; null where none are being made. */
  progress: { made: number; of: number } | null;
  /** Makes every tile's frame at full size and saves all of them as one zip of PNG files. */
  save(wall: Wall, orders: readonly PictureOrder[], name: string): void;
  cancel(): void;
}

/** Saves the tiles of a wall as frames, each as the Bench makes it. */
export function useFrames(): WallFrames {
  const channel = useChannel(PRIORITY.idle);
  const [progress, setProgress] = useState<WallFrames["progress"]>(null);
  const current = useRef<AbortController | null>(null);
  useEffect(() => () => current.current?.abort(), []);
  const pictureOf = (order: PictureOrder) =>
    new Promise<Picture>((resolve, reject) =>
      channel().ask("picture", order, resolve, (problem) => reject(new Error(problem.message))),
    );
  const patiently = async (order: PictureOrder, signal: AbortSignal): Promise<Picture> => {
    for (let tries = 1; ; tries++)
      try {
        return await pictureOf(order);
      } catch (error) {
        if (tries === MAX_TRIES || signal.aborted) throw error;
        await new Promise((done) => setTimeout(done, RETRY_AFTER));
      }
  };
  const saveAll = async (wall: Wall, orders: readonly PictureOrder[], name: string, signal: AbortSignal) => {
    const zip = zipOf();
    for (const [i, order] of orders.entries()) {
      const picture = await patiently(order, signal);
      if (signal.aborted) return;
      zip.add(`${tileFileName(wall, wall.tiles[i]!)}.png`, await pngOf(picture));
      setProgress({ made: i + 1, of: orders.length });
    }
    saveFile(`${name}.zip`, zip.end(), "application/zip");
  };
  return {
    progress,
    save(wall, orders, name) {
      const own = new AbortController();
      current.current = own;
      setProgress({ made: 0, of: orders.length });
      saveAll(wall, orders, name, own.signal)
        .catch((error: Error) => !own.signal.aborted && toast.error(`The frames were not saved: ${error.message}`))
        .finally(() => current.current === own && setProgress(null));
    },
    cancel() {
      current.current?.abort();
      current.current = null;
      setProgress(null);
    },
  };
}
