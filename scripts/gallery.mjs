// npm run gallery [kind …]: each element at strengths 0, 0.5, 1 and 2 on a demo frame, side by side, in .cache/gallery.
// Not committed.
import { execFileSync } from "node:child_process";
import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import sharp from "sharp";
import { root } from "./lib.mjs";

const folder = join(root, ".cache", "gallery");
const frames = join(process.env.HALO_DATA ?? join(root, ".data"), "footage/tarn-line");
/** The frame an element shows itself on, and what it needs to. */
const ON = {
  defocus: ["TL-030.0008", "orrin-vale-50", { by: "depth", focus: 3.4 }],
  swirl: ["TL-030.0008", "merrow-85"],
  sharpness: ["TL-020.0008"],
  edgeSoftness: ["TL-020.0008"],
  sharpen: ["TL-020.0008"],
  streak: ["TL-010.0012", "hask-scope-40"],
  ghosts: ["TL-010.0012", "hask-scope-40"],
  shafts: ["TL-040.0008", "orrin-vale-35", { x: 5, y: -30 }],
  axialColour: ["TL-040.0008"],
  fog: ["TL-040.0008", "orrin-vale-35", { depth: 20 }],
  trim: ["TL-020.0008", "orrin-vale-50", { exposure: 0.5, saturation: 0.7 }],
  curves: ["TL-020.0008", "orrin-vale-50", { shadows: 0.6, brights: -0.6 }],
  net: ["TL-030.0008", "orrin-vale-50", { grade: "medium" }],
  distortion: ["TL-020.0008", "hask-scope-40"],
};
const STRENGTHS = [0, 0.5, 1, 2];

mkdirSync(folder, { recursive: true });
const elements = JSON.parse(execFileSync(join(root, "bin/halo"), ["elements", "--json"], { encoding: "utf8" })).map(
  ({ kind }) => kind,
);
const wanted = process.argv.slice(2).length ? process.argv.slice(2) : elements;
for (const kind of wanted) {
  const [frame, profile = "orrin-vale-50", params = {}] = ON[kind] ?? ["TL-010.0012"];
  const made = [];
  for (const strength of STRENGTHS) {
    const look = {
      format: "pale-halo-look",
      version: 1,
      name: kind,
      camera: { sensor: { width: 24.9, height: 14 } },
      lens: { profile, focalLength: Number(profile.match(/\d+/)[0]), stop: 2, focusDistance: 3.4 },
      elements: [{ id: "e", kind, strength, params }],
      view: { kind: "soft" },
    };
    writeFileSync(join(folder, "look.json"), JSON.stringify(look));
    const [id, number] = frame.split(".");
    const out = join(folder, `${kind}-${strength}.png`);
    execFileSync(
      join(root, "bin/halo"),
      [
        "render",
        "--look",
        join(folder, "look.json"),
        "--in",
        join(frames, `${id}.%04d.exr`),
        "--frames",
        `${Number(number)}-${Number(number)}`,
        "--out",
        out,
        "--depth",
        "8",
      ],
      { stdio: ["ignore", "ignore", "inherit"] },
    );
    made.push(out);
  }
  const { width, height } = await sharp(made[0]).metadata();
  await sharp({ create: { width: width * 2, height: height * 2, channels: 3, background: "#000" } })
    .composite(made.map((input, i) => ({ input, left: (i % 2) * width, top: Math.floor(i / 2) * height })))
    .png()
    .toFile(join(folder, `${kind}.png`));
  console.log(join(folder, `${kind}.png`));
}
