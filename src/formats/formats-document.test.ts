import { readFileSync, writeFileSync } from "node:fs";
import { expect, test } from "vitest";
import { NO_OVERSCAN } from "../core/image/overscan";
import { fixture } from "./fixtures/pattern";
import type { FormatDescription } from "./format";
import { FORMATS, readImage } from "./formats";
import { MOVIE_CONTAINERS } from "./movies";
import { lossesOf } from "./losses";

/** `npm run formats` writes docs/formats.md; `npm test` holds it against what the files themselves give. */
const WRITES = Boolean(process.env.HALO_WRITE_FORMATS);
const PATH = "docs/formats.md";

/** A file of an independent tool for each format, with as much beside its picture as the tool could write. */
const SAMPLES: Record<string, string> = {
  OpenEXR: "carried.exr",
  DPX: "carried.dpx",
  PNG: "sixteen.png",
  TIFF: "sixteen.tif",
  JPEG: "eight.jpg",
  Y4M: "422-10.y4m",
  "Packed Y4M": "422-10.y4m.gz",
};
/** Formats that are written, movies too. */
const WRITTEN: FormatDescription[] = [...FORMATS, ...MOVIE_CONTAINERS.filter(({ write }) => write.length)];
const EVERYTHING = { left: Infinity, top: Infinity, right: Infinity, bottom: Infinity };

const table = (head: readonly string[], rows: readonly (readonly string[])[]) =>
  [head, head.map(() => "---"), ...rows].map((row) => `| ${row.join(" | ")} |`).join("\n");

async function lostFrom(name: string): Promise<string[]> {
  const file = SAMPLES[name]!;
  const { info } = await readImage(file, fixture(file));
  return WRITTEN.map(({ name: to, extensions }) => {
    const kept =
      to === "OpenEXR"
        ? { overscan: EVERYTHING, layers: info.channels.map((channel) => ({ name: channel })) }
        : { overscan: NO_OVERSCAN, layers: [] };
    return lossesOf(info, { output: `x${extensions[0]!}`, ...kept }).join("; ") || "nothing";
  });
}

async function document(): Promise<string> {
  const names = FORMATS.map(({ name }) => name);
  const lost = table(
    ["from \\ to", ...WRITTEN.map(({ name }) => name)],
    await Promise.all(names.map(async (name) => [`**${name}**`, ...(await lostFrom(name))])),
  );
  return `# What goes on between formats

Written by \`npm run formats\` from the files of independent tools in \`src/formats/fixtures\`; \`npm test\` fails where it is not so any more.
Which depths and kinds of each format are read and written: [files.md](files.md).

What \`render\` and \`convert\` name in their line of losses, of a file that carries as much as its tool could write, with
\`--layers keep\` and \`--overscan keep\`. Everything else goes on. Colour tags are always those of what is written.

${lost}
`;
}

test("docs/formats.md is what is lost between formats", async () => {
  const text = await document();
  if (WRITES) writeFileSync(PATH, text);
  expect(readFileSync(PATH, "utf8")).toBe(text);
});
