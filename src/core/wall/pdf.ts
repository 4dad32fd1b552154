/** A PDF (ISO 32000-1) of one page that is a picture: a JPEG file, put in as it is. */

/** A4, in points of 1/72 inch: the shorter side and the longer one. */
const A4 = [595.28, 841.89] as const;
/** Around the picture, points. */
const MARGIN = 18;

const encoder = new TextEncoder();

/** Puts a JPEG of so many pixels on a page of A4, upright or across as it fits better, as large as it goes. */
export function pdfOfJpeg(jpeg: Uint8Array, { width, height }: { width: number; height: number }, title: string) {
  const [pageWidth, pageHeight] = width > height ? [A4[1], A4[0]] : [A4[0], A4[1]];
  const scale = Math.min((pageWidth - 2 * MARGIN) / width, (pageHeight - 2 * MARGIN) / height);
  const [w, h] = [width * scale, height * scale];
  const place = [w, 0, 0, h, (pageWidth - w) / 2, (pageHeight - h) / 2].map((value) => value.toFixed(3)).join(" ");
  const content = `q ${place} cm /Picture Do Q`;
  // A string in UTF-16 with its mark first, as hexadecimal: any letter may stand in it.
  const hex = [...`\ufeff${title}`].flatMap((letter) =>
    Array.from({ length: letter.length }, (_, i) => letter.charCodeAt(i).toString(16).padStart(4, "0")),
  );
  const objects: (string | Uint8Array)[][] = [
    ["<< /Type /Catalog /Pages 2 0 R >>"],
    ["<< /Type /Pages /Kids [3 0 R] /Count 1 >>"],
    [
      `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${pageWidth} ${pageHeight}] /Contents 4 0 R`,
      " /Resources << /XObject << /Picture 5 0 R >> >> >>",
    ],
    [`<< /Length ${content.length} >>\nstream\n${content}\nendstream`],
    [
      `<< /Type /XObject /Subtype /Image /Width ${width} /Height ${height} /ColorSpace /DeviceRGB`,
      ` /BitsPerComponent 8 /Filter /DCTDecode /Length ${jpeg.length} >>\nstream\n`,
      jpeg,
      "\nendstream",
    ],
    [`<< /Title <${hex.join("")}> /Producer (Pale Halo) >>`],
  ];
  const parts: Uint8Array[] = [];
  let at = 0;
  const put = (part: string | Uint8Array) => {
    const bytes = typeof part === "string" ? encoder.encode(part) : part;
    parts.push(bytes);
    at += bytes.length;
  };
  put("%PDF-1.4\n%\u00e2\u00e3\n");
  const offsets = objects.map((object, i) => {
    const start = at;
    put(`${i + 1} 0 obj\n`);
    object.forEach(put);
    put("\nendobj\n");
    return start;
  });
  const table = at;
  put(`xref\n0 ${objects.length + 1}\n0000000000 65535 f \n`);
  for (const offset of offsets) put(`${String(offset).padStart(10, "0")} 00000 n \n`);
  put(`trailer\n<< /Size ${objects.length + 1} /Root 1 0 R /Info 6 0 R >>\nstartxref\n${table}\n%%EOF\n`);
  const out = new Uint8Array(at);
  let to = 0;
  for (const part of parts) {
    out.set(part, to);
    to += part.length;
  }
  return out;
}
