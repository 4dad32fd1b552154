import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { expect, test } from "vitest";

const folder = mkdtempSync(join(tmpdir(), "halo-sheet-"));
const halo = (...args: string[]) => spawnSync("bin/halo", args, { encoding: "utf8" });

test("the glass sheet says what charts through the look came to, where it is asked to: what verify says", async () => {
  const [input, look, out] = ["in.0007.png", "look.json", "sheet.html"].map((name) => join(folder, name)) as [
    string,
    string,
    string,
  ];
  await sharp({ create: { width: 64, height: 36, channels: 3, background: "#808080" } })
    .png()
    .toFile(input);
  writeFileSync(
    look,
    JSON.stringify({
      ...{ format: "pale-halo-look", version: 1, name: "Trial" },
      lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
      elements: [
        { id: "i", kind: "illumination" },
        { id: "g", kind: "grain" },
      ],
    }),
  );
  const sheet = (...more: string[]) => halo("sheet", "--look", look, "--in", input, "--out", out, ...more);
  expect(sheet().status).toBe(0);
  expect(readFileSync(out, "utf8")).not.toContain("Measured");
  expect(sheet("--verify").status).toBe(0);
  const html = readFileSync(out, "utf8");
  const rows = [...html.matchAll(/<tr>(.*?)<\/tr>/g)].map(([, row]) =>
    [...row!.matchAll(/<t[dh]>(.*?)<\/t[dh]>/g)].map(([, cell]) => cell),
  );
  const told = JSON.parse(halo("verify", "--look", look, "--json").stdout) as { quantity: string; measured: number }[];
  expect(told.length).toBeGreaterThan(1);
  for (const { quantity, measured } of told) {
    const row = rows.find(([kind, name]) => kind === "Illumination" && name === quantity);
    expect(Number(row?.[3])).toBeCloseTo(measured, 3);
    expect(row?.at(-1)).toBe("met");
  }
  expect(rows.at(-1)).toEqual(["Grain", expect.stringContaining("not measured")]);
});
