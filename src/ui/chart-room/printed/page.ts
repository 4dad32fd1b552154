import type { Page } from "@/core/measure/printed/follow";

/** A page as it was dropped: its picture, and its code values to follow lines on. */
export interface DroppedPage {
  name: string;
  bitmap: ImageBitmap;
  page: Page;
}

/** Pages with more pixels than this are made smaller: lines on them are many pixels wide. */
const MAX_PIXELS = 12e6;

/** Reads a picture of a page. Throws Error that names the file where it is none. */
export async function readPage(name: string, file: Blob): Promise<DroppedPage> {
  let whole: ImageBitmap;
  try {
    whole = await createImageBitmap(file);
  } catch {
    throw new Error(`${name}: is no picture that can be read; drop a PNG or a JPEG of the page`);
  }
  const scale = Math.min(1, Math.sqrt(MAX_PIXELS / (whole.width * whole.height)));
  const [width, height] = [Math.round(whole.width * scale), Math.round(whole.height * scale)];
  const canvas = new OffscreenCanvas(width, height);
  const drawing = canvas.getContext("2d", { willReadFrequently: true })!;
  drawing.drawImage(whole, 0, 0, width, height);
  whole.close();
  const { data } = drawing.getImageData(0, 0, width, height);
  const page = { width, height, data: Float32Array.from(data, (code) => code / 255) };
  return { name, bitmap: await createImageBitmap(canvas), page };
}
