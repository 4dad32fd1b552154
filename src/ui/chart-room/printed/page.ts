import type { Page } from "@/core/measure/printed/follow";
import { isPdf, pdfPage } from "./pdf";

/** A page as it was dropped: its picture, and its code values to follow lines on. */
export interface DroppedPage {
  name: string;
  /** Which of the file's pages it is, from 1. */
  number: number;
  pages: number;
  bitmap: ImageBitmap;
  page: Page;
}

/** Pages with more pixels than this are made smaller: lines on them are many pixels wide. */
const MAX_PIXELS = 12e6;

async function pictureOf(name: string, file: Blob, number: number) {
  if (await isPdf(file)) return pdfPage(name, file, number);
  try {
    return { bitmap: await createImageBitmap(file), number: 1, pages: 1 };
  } catch {
    throw new Error(`${name}: is no picture that can be read; drop a PNG, a JPEG or a PDF of the page`);
  }
}

/** Reads a picture of a page, or a page of a PDF. Throws Error that names the file where it is none. */
export async function readPage(name: string, file: Blob, wanted = 1): Promise<DroppedPage> {
  const { bitmap: whole, number, pages } = await pictureOf(name, file, wanted);
  const scale = Math.min(1, Math.sqrt(MAX_PIXELS / (whole.width * whole.height)));
  const [width, height] = [Math.round(whole.width * scale), Math.round(whole.height * scale)];
  const canvas = new OffscreenCanvas(width, height);
  const drawing = canvas.getContext("2d", { willReadFrequently: true })!;
  drawing.drawImage(whole, 0, 0, width, height);
  whole.close();
  const { data } = drawing.getImageData(0, 0, width, height);
  const page = { width, height, data: Float32Array.from(data, (code) => code / 255) };
  return { name, number, pages, bitmap: await createImageBitmap(canvas), page };
}
