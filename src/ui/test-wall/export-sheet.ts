import { pdfOfJpeg } from "@/core/wall/pdf";
import { SHEET_COLOURS, sheetLayout, type SheetWords } from "@/core/wall/sheet";
import type { Picture } from "../engine/questions";
import { saveFile } from "../shared/download";

const JPEG_QUALITY = 0.95;

/** A text that is cut where it would be wider. */
function fitting(context: CanvasRenderingContext2D, text: string, maxWidth: number): string {
  let shown = text;
  while (shown.length > 1 && context.measureText(shown).width > maxWidth) shown = shown.slice(0, -1);
  return shown;
}

/** Draws the page of a wall, tile by tile in their order. */
function draw(words: SheetWords, pictures: readonly Picture[], tile: { width: number; height: number }) {
  const layout = sheetLayout(words, tile);
  const canvas = document.createElement("canvas");
  canvas.width = layout.width;
  canvas.height = layout.height;
  const context = canvas.getContext("2d", { alpha: false })!;
  context.fillStyle = SHEET_COLOURS.page;
  context.fillRect(0, 0, layout.width, layout.height);
  const own = document.createElement("canvas");
  for (const [i, picture] of pictures.entries()) {
    own.width = picture.width;
    own.height = picture.height;
    own.getContext("2d")!.putImageData(new ImageData(picture.pixels, picture.width, picture.height), 0, 0);
    const { x, y, width, height } = layout.tiles[i]!;
    context.drawImage(own, x, y, width, height);
  }
  const family = getComputedStyle(document.body).fontFamily;
  for (const { text, x, y, size, align, isQuiet, maxWidth } of layout.texts) {
    context.font = `${size}px ${family}`;
    context.fillStyle = isQuiet ? SHEET_COLOURS.quiet : SHEET_COLOURS.text;
    context.textAlign = align === "centre" ? "center" : "left";
    context.fillText(fitting(context, text, maxWidth), x, y);
  }
  return { canvas, layout };
}

const blobOf = (canvas: HTMLCanvasElement, type: string, quality?: number) =>
  new Promise<Blob>((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error("The page is too large to be drawn"))),
      type,
      quality,
    ),
  );

/** Saves the page of a wall as PNG, or as PDF of one page. */
export async function saveSheet(
  words: SheetWords,
  pictures: readonly Picture[],
  tile: { width: number; height: number },
  kind: "png" | "pdf",
  name: string,
): Promise<void> {
  const { canvas, layout } = draw(words, pictures, tile);
  if (kind === "png") return saveFile(`${name}.png`, await blobOf(canvas, "image/png"), "image/png");
  const jpeg = new Uint8Array(await (await blobOf(canvas, "image/jpeg", JPEG_QUALITY)).arrayBuffer());
  const pdf = pdfOfJpeg(jpeg, layout, words.title);
  saveFile(`${name}.pdf`, new Blob([pdf]), "application/pdf");
}
