/** The wall's page as a file: its tiles and its words drawn by their layout. */
import sharp from "sharp";
import { pdfOfJpeg } from "../../core/wall/pdf";
import { SHEET_COLOURS, sheetLayout, type SheetText, type SheetWords } from "../../core/wall/sheet";
import { drawnLetters, escaped } from "../letters/letters";

/** A tile's code values, 8-bit RGB, row by row. */
export interface TilePicture {
  width: number;
  height: number;
  codes: Uint8Array;
}

const JPEG_QUALITY = 95;
/** Share of a line's height above its baseline. */
const BASELINE = 0.78;

/** A text as a small picture, and where it stands; letters that do not fit are cut off at the end. */
async function drawn({ text, x, y, size, align, isQuiet, maxWidth }: SheetText) {
  const colour = isQuiet ? SHEET_COLOURS.quiet : SHEET_COLOURS.text;
  // An unseen stroke, as high and as low as letters go: all texts are of one height, and on one line.
  const markup = `<span foreground="${colour}">${escaped(text)}</span><span alpha="1"> |</span>`;
  const made = await drawnLetters(markup, size, true).toBuffer({ resolveWithObject: true });
  const width = Math.min(made.info.width, Math.round(maxWidth));
  const input =
    width < made.info.width
      ? await sharp(made.data).extract({ left: 0, top: 0, width, height: made.info.height }).toBuffer()
      : made.data;
  const left = Math.round(align === "centre" ? x - width / 2 : x);
  return { input, left, top: Math.round(y - BASELINE * made.info.height) };
}

/** A page of tiles as PNG, or as PDF of one page. `stretch`: how much wider squeezed frames are shown. */
export async function sheetFile(
  words: SheetWords,
  tiles: readonly TilePicture[],
  kind: "png" | "pdf",
  stretch: number,
): Promise<Buffer> {
  const shown = { width: Math.round(tiles[0]!.width * stretch), height: tiles[0]!.height };
  const layout = sheetLayout(words, shown);
  const { width, height } = layout;
  const pictures = await Promise.all(
    tiles.map(async ({ codes, ...size }, i) => ({
      input: await sharp(codes, { raw: { ...size, channels: 3 } })
        .resize({ ...shown, fit: "fill" })
        .png({ compressionLevel: 0 })
        .toBuffer(),
      left: Math.round(layout.tiles[i]!.x),
      top: Math.round(layout.tiles[i]!.y),
    })),
  );
  const texts = await Promise.all(layout.texts.map(drawn));
  const page = sharp({ create: { width, height, channels: 3, background: SHEET_COLOURS.page } }).composite([
    ...pictures,
    ...texts,
  ]);
  if (kind === "png") return page.png().toBuffer();
  const jpeg = await page.jpeg({ quality: JPEG_QUALITY, chromaSubsampling: "4:4:4" }).toBuffer();
  return Buffer.from(pdfOfJpeg(jpeg, { width, height }, words.title));
}
