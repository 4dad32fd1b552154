import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, type Page } from "@playwright/test";
import { readHeaders } from "../../src/formats/exr/header";
import { test } from "../restored-test";
import { listen, openBench } from "../bench-page";

const SHOTS = ["TL-010 Upper station", "TL-020 Ticket window", "TL-030 Pine path", "TL-040 Tunnel mouth"];
const FRAMES = [5];

interface Manifest {
  render: number;
  state: string;
  files: { file: string; bytes: number; sha256: string }[];
}

const saved = async (page: Page, press: () => Promise<void>): Promise<Buffer> => {
  const download = page.waitForEvent("download");
  await press();
  return readFileSync(await (await download).path());
};
const digest = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");

test("J20 four shots in two versions as EXR and as a movie, the maps, the sheet, and the recipe that gives them again", async ({
  page,
}) => {
  // Sixteen renders, one after another.
  test.setTimeout(420_000);
  const said = listen(page);
  const data = process.env.HALO_TEST_DATA!;
  const renders = join(data, "renders");
  const before = new Set(existsSync(renders) ? readdirSync(renders) : []);

  // The delivery: two looks of four shots, in two formats, named by a pattern.
  await page.goto("/renders");
  await page.getByRole("button", { name: "A delivery of several" }).click();
  const form = page.getByRole("region", { name: "New delivery" });
  const rows = form.getByRole("list", { name: "Shots of the delivery" }).getByRole("listitem");
  for (const shot of SHOTS)
    for (const version of ["as it is now", "1. As opened"])
      await rows.filter({ hasText: shot }).getByLabel(version).check();
  const movie = form.getByLabel("H.264 8 bits, MP4");
  const review = (await movie.count()) ? "mp4" : "y4m";
  await (review === "mp4" ? movie : form.getByLabel("Y4M 10 bits, 4:4:4")).check();
  await form.getByLabel("Only from frame").fill(String(FRAMES[0]));
  await form.getByLabel("to frame", { exact: true }).fill(String(FRAMES.at(-1)));
  await form.getByLabel("Names", { exact: true }).fill("{shot}_{version}_v1.{frame}");
  const names = form.getByRole("list", { name: "Names as they will be" });
  await expect(names).toContainText(`TL-030_As_opened_v1.000${FRAMES[0]}.exr`);
  await expect(names).toContainText(`TL-040_now_v1.${review}`);

  // It is kept by its name, and there again.
  await form.getByLabel("Name of the delivery").fill("Facility and review");
  await form.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(form.getByRole("button", { name: "Keep in its place" })).toBeVisible();
  await form.getByRole("button", { name: "Queue 16 renders" }).click();
  await expect(page.getByText("16 renders are queued")).toBeVisible();
  // The newest are listed first.
  const states = () =>
    page.locator("[data-render]").evaluateAll((rows) => rows.slice(0, 16).map((row) => row.textContent ?? ""));
  await expect
    .poll(async () => (await states()).filter((text) => text.includes("Done")).length, { timeout: 300_000 })
    .toBe(16);

  // Every file is there, under its name, and is what the manifest says.
  const folders = readdirSync(renders).filter((name) => !before.has(name));
  expect(folders).toHaveLength(16);
  const ids = await page
    .locator("[data-render]")
    .evaluateAll((rows) => rows.slice(0, 16).map((row) => Number((row as HTMLElement).dataset.render)));
  const manifests: Manifest[] = [];
  for (const id of ids) {
    const row = page.locator(`[data-render="${id}"]`);
    const bytes = await saved(page, () => row.getByRole("button", { name: "Manifest" }).click());
    manifests.push(JSON.parse(bytes.toString("utf8")) as Manifest);
  }
  const all = manifests.flatMap(({ files }) => files);
  expect(all.filter(({ file }) => file.endsWith(".exr"))).toHaveLength(8 * FRAMES.length);
  expect(all.filter(({ file }) => file.endsWith(`.${review}`))).toHaveLength(8);
  const onDisk = new Map(
    folders.flatMap((folder) =>
      readdirSync(join(renders, folder))
        .filter((file) => !file.startsWith("."))
        .map((file) => [file, join(renders, folder, file)] as const),
    ),
  );
  for (const { file, bytes, sha256 } of all) {
    const content = readFileSync(onDisk.get(file)!);
    expect([file, content.length, digest(content)]).toEqual([file, bytes, sha256]);
  }

  // The recipe, read back by the command line, gives the same bytes.
  const recipe = [...onDisk].find(([file]) => file === "TL-020_As_opened_v1.exr.recipe.json")![1];
  const again = mkdtempSync(join(tmpdir(), "halo-j20-"));
  execFileSync("bin/halo", ["render", "--recipe", recipe, "--out", join(again, "TL-020_As_opened_v1.%04d.exr")]);
  for (const frame of FRAMES) {
    const file = `TL-020_As_opened_v1.000${frame}.exr`;
    expect(digest(readFileSync(join(again, file)))).toBe(all.find((one) => one.file === file)!.sha256);
  }

  // The maps for visual effects, and the sheet.
  await page.goto("/cabinet?profile=orrin-vale-50");
  await page.getByRole("button", { name: "Export", exact: true }).click();
  await page.getByLabel("Form of the file").selectOption({ label: "Distortion map (EXR)" });
  const map = await saved(page, () => page.getByRole("button", { name: "Save Distortion map (EXR)" }).click());
  expect(readHeaders("map.exr", map).parts[0]!.channels.map(({ name }) => name)).toEqual(["B", "G", "R"]);
  await openBench(page, "TL-020");
  const sheet = await saved(page, () => page.getByRole("button", { name: "Glass sheet" }).click());
  expect(sheet.toString("utf8")).toMatch(/<h1>Brass and wool<\/h1>[^]*Orrin Vale 50[^]*T2\.8/);

  // What was made for this goes again.
  await page.goto("/renders");
  for (const id of ids) {
    await page.getByRole("button", { name: `Remove render ${id}`, exact: true }).click();
    await page.getByRole("button", { name: "Remove it" }).click();
    await expect(page.locator(`[data-render="${id}"]`)).toHaveCount(0);
  }
  await page.getByRole("button", { name: "A delivery of several" }).click();
  await form.getByLabel("Kept delivery").selectOption({ label: "Facility and review" });
  await expect(form.getByLabel("Names", { exact: true })).toHaveValue("{shot}_{version}_v1.{frame}");
  await form.getByRole("button", { name: "Remove the delivery Facility and review" }).click();
  await form.getByRole("button", { name: "Remove it" }).click();
  await expect(form.getByLabel("Kept delivery")).toContainText("None is kept yet");
  expect(said).toEqual([]);
});
