/** Pages of PDF files as pictures, made in the browser. */

const SIGNATURE = "%PDF-";
/** The signature lies within the first bytes. */
const HEAD = 1024;
/** Longer side of a page's picture, px: 200 to the inch of an A4 page. */
const LONGER_SIDE = 2340;
const MAX_BYTES = 200 * 2 ** 20;

export const isPdf = async (file: Blob) => (await file.slice(0, HEAD).text()).includes(SIGNATURE);

/** A page of a PDF on white; the nearest one there is. Throws Error that names the file. */
export async function pdfPage(name: string, file: Blob, wanted: number) {
  if (file.size > MAX_BYTES) throw new Error(`${name}: is larger than ${MAX_BYTES / 2 ** 20} MiB`);
  // Large, and used by nobody who has a picture.
  const { getDocument, GlobalWorkerOptions } = await import("pdfjs-dist");
  GlobalWorkerOptions.workerSrc = "/engine/pdf.worker.mjs";
  const loading = getDocument({
    data: await file.arrayBuffer(),
    isEvalSupported: false,
    disableFontFace: true,
    standardFontDataUrl: "/engine/fonts/",
  });
  try {
    const document = await loading.promise;
    const number = Math.min(document.numPages, Math.max(1, wanted));
    const page = await document.getPage(number);
    const { width, height } = page.getViewport({ scale: 1 });
    const viewport = page.getViewport({ scale: LONGER_SIDE / Math.max(width, height) });
    const canvas = globalThis.document.createElement("canvas");
    [canvas.width, canvas.height] = [Math.ceil(viewport.width), Math.ceil(viewport.height)];
    await page.render({ canvasContext: canvas.getContext("2d")!, viewport }).promise;
    return { bitmap: await createImageBitmap(canvas), number, pages: document.numPages };
  } catch (error) {
    const why = (error as Error).name === "PasswordException" ? "is locked with a password" : (error as Error).message;
    throw new Error(`${name}: is a PDF that cannot be read: ${why}`);
  } finally {
    void loading.destroy();
  }
}
