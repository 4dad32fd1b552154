import { readFileSync } from "node:fs";
import { expect } from "@playwright/test";
import { openBench, picture, piece, pixels, settled } from "./bench-page";
import { test } from "./restored-test";
import { type } from "./jobs/steps";

type Page = Parameters<typeof openBench>[0];
const hash = async (page: Page) => {
  await settled(page);
  return (await pixels(picture(page))).hash;
};
const shelf = (page: Page, name: string) => page.getByRole("complementary", { name });
const open = async (page: Page, name: "Looks" | "Versions" | "Stills") => {
  await page.getByRole("button", { name: new RegExp(`^${name}( \\(\\d+\\))?$`) }).click();
  await expect(shelf(page, name)).toBeVisible();
};
const worn = async (page: Page, shot: string) =>
  (
    (await (await page.request.get(`/api/shots/${shot}/look`)).json()) as {
      look: { name: string; elements: { kind: string }[] };
    }
  ).look;
const kinds = async (page: Page, shot: string) => (await worn(page, shot)).elements.map(({ kind }) => kind);

test("a look is pointed at and seen, pulled back beside it, put on, and taken back in one step", async ({ page }) => {
  await openBench(page, "TL-030");
  const own = await hash(page);
  await open(page, "Looks");
  await expect(shelf(page, "Looks").locator("canvas[data-made=yes]").first()).toBeVisible({ timeout: 15_000 });
  const card = shelf(page, "Looks").getByRole("button", { name: /Valley fog/ });
  await card.hover();
  await expect(page.getByRole("region", { name: "Picture" }).getByText("Valley fog")).toBeVisible();
  await expect.poll(() => hash(page)).not.toBe(own);
  const full = await hash(page);
  await page.mouse.move(700, 400);
  await expect.poll(() => hash(page)).toBe(own);
  await card.click();
  const details = page.getByRole("region", { name: "The look Valley fog" });
  await expect(details).toContainText("Lowfog");
  await details.getByRole("slider", { name: "Strength", exact: true }).fill("0.35");
  await details.hover();
  await expect(page.getByText("Valley fog, at 0.35 ×")).toBeVisible();
  await settled(page);
  const eased = await hash(page);
  expect([own, full]).not.toContain(eased);
  await details.getByRole("button", { name: "Put on this shot" }).click();
  await page.mouse.move(700, 400);
  await expect(page.getByRole("textbox", { name: /^Overall strength/ })).toHaveValue("0.35");
  await expect.poll(() => hash(page)).toBe(eased);
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  await expect.poll(() => hash(page)).toBe(own);
});

test("a look of one's own is kept with what it is for, found by its tag, written out, read back in, and removed", async ({
  page,
}) => {
  await openBench(page, "TL-020");
  await open(page, "Looks");
  await piece(page, "Grain").click();
  await piece(page, "Transmission").click({ modifiers: ["ControlOrMeta"] });
  await page.getByRole("button", { name: "Keep the present look …" }).click();
  const form = page.getByRole("form", { name: "Keep the present look" });
  await form.getByLabel("Name of the look").fill("Tested film");
  await form.getByLabel("What the look is for").fill("Film and the colour of the glass alone.");
  await form.getByLabel("Tags of the look").fill("film, warm");
  await form.getByRole("checkbox").check();
  await form.getByRole("button", { name: "Keep it" }).click();
  const own = shelf(page, "Looks").getByRole("region", { name: "Own" });
  await expect(own.getByRole("button", { name: /Tested film/ })).toBeVisible();
  await page.getByLabel("Find a look").fill("warm");
  await own.getByRole("button", { name: /Tested film/ }).click();
  const details = page.getByRole("region", { name: "The look Tested film" });
  await expect(details).toContainText("Film and the colour of the glass alone.");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    details.getByRole("button", { name: "Export" }).click(),
  ]);
  expect(file.suggestedFilename()).toBe("tested-film.json");
  const text = readFileSync((await file.path())!, "utf8");
  const written = JSON.parse(text) as { elements: { kind: string }[]; tags: string[] };
  expect(written.elements.map(({ kind }) => kind).sort()).toEqual(["grain", "transmission"]);
  expect(written.tags).toEqual(["film", "warm"]);

  // One that is no look is told of by its name; one that names a lens that is not here finds another in its place.
  const strange = { ...written, name: "Tested stranger", lens: { profile: "lost-lens-50", focalLength: 50 } };
  await page.getByLabel("Looks to import").setInputFiles([
    { name: "stranger.json", mimeType: "application/json", buffer: Buffer.from(JSON.stringify(strange)) },
    { name: "nothing.json", mimeType: "application/json", buffer: Buffer.from('{"format":"else"}') },
  ]);
  await expect(page.getByText(/^nothing\.json: format/)).toBeVisible();
  await page.getByLabel("Find a look").fill("stranger");
  await own.getByRole("button", { name: /Tested stranger/ }).click();
  const other = page.getByRole("region", { name: "The look Tested stranger" });
  await expect(other).toContainText("there is no lens “lost-lens-50” here");
  await other.getByLabel("In place of lost-lens-50").selectOption({ label: "Merrow 85 in its place" });
  await other.getByRole("button", { name: "Put on this shot" }).click();
  await piece(page, "Grain").click();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("combobox", { name: "Lens", exact: true })).toHaveValue("merrow-85");
  for (const name of ["Tested stranger", "Tested film"]) {
    await page.getByLabel("Find a look").fill(name);
    const card = own.getByRole("button", { name: new RegExp(name) });
    if ((await card.getAttribute("aria-pressed")) === "false") await card.click();
    await page.getByRole("button", { name: `Remove the look ${name}` }).click();
    await page.getByRole("button", { name: "Remove it" }).click();
    await expect(card).toHaveCount(0);
  }
});

test("film alone is put on three shots at once, listed shot by shot, and undone on all of them in one step", async ({
  page,
}) => {
  const shots = ["TL-010", "TL-030", "TL-040"] as const;
  const before = await Promise.all(shots.map((id) => kinds(page, id)));
  await openBench(page, "TL-010");
  await open(page, "Looks");
  await shelf(page, "Looks")
    .getByRole("button", { name: /Old stock/ })
    .click();
  const details = page.getByRole("region", { name: "The look Old stock" });
  await details.getByLabel("What of it").selectOption("film");
  await details.getByRole("button", { name: "On several shots …" }).click();
  for (const name of ["Upper station", "Pine path", "Tunnel mouth"])
    await details.getByRole("checkbox", { name }).check();
  await details.getByRole("button", { name: "Put on 3 shots" }).click();
  const told = details.getByRole("status", { name: "What changed" });
  await expect(told.locator("summary")).toHaveCount(3);
  await told.getByText(/^Pine path/).click();
  await expect(told.locator("details[open]").getByText("Halation", { exact: true })).toBeVisible();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  const film = ["halation", "grain", "flicker"];
  for (const [i, id] of shots.entries()) {
    const now = await kinds(page, id);
    expect(now.filter((kind) => film.includes(kind))).toEqual(film);
    expect(now.filter((kind) => !film.includes(kind))).toEqual(before[i]!.filter((kind) => !film.includes(kind)));
  }
  await page.keyboard.press("Control+z");
  for (const [i, id] of shots.entries()) await expect.poll(() => kinds(page, id)).toEqual(before[i]!);
  await page.getByRole("button", { name: "Redo" }).click();
  await expect.poll(() => kinds(page, "TL-040")).toContain("flicker");
  await page.getByRole("button", { name: "Undo", exact: true }).click();
  for (const [i, id] of shots.entries()) await expect.poll(() => kinds(page, id)).toEqual(before[i]!);
});

test("a version says in words what differs from now, and one element of it is taken over", async ({ page }) => {
  await openBench(page, "TL-040");
  const own = await hash(page);
  await open(page, "Versions");
  await page.getByLabel("Name of the version").fill("Before");
  await page.getByRole("button", { name: "Keep this look" }).click();
  await piece(page, "Grain").click();
  await type(page, "Strength", 2.5);
  await type(page, "Overall strength", 0.5);
  const card = shelf(page, "Versions")
    .getByRole("listitem")
    .filter({ has: page.locator("input[value=Before]") })
    .first();
  await card.getByRole("button", { name: "2 things differ" }).click();
  await expect(card).toContainText("Overall strength 1.00 × → 0.50 ×");
  await expect(card).toContainText(/Strength \d\.\d\d × → 2\.50 ×/);
  await card.getByLabel(/^Note on version/).fill("Checked against the daylight frames");
  await card.getByLabel(/^Note on version/).press("Enter");
  await card.getByRole("button", { name: "Take Grain over" }).click();
  await expect(card.getByRole("button", { name: "1 thing differs" })).toBeVisible();
  await type(page, "Overall strength", 1);
  await expect(card.getByRole("button", { name: "As it is now" })).toBeVisible();
  expect(await hash(page)).toBe(own);
  await page.reload();
  await settled(page);
  await open(page, "Versions");
  await expect(card.getByLabel(/^Note on version/)).toHaveValue("Checked against the daylight frames");
  await card.getByRole("button", { name: /^Remove version/ }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(card).toHaveCount(0);
});

test("one key keeps a still; it is held against another shot's picture, its look is put on there, and it is handed on", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  const first = await hash(page);
  await page.keyboard.press("p");
  await expect(page.getByText("A still of frame 9 is kept")).toBeVisible({ timeout: 30_000 });
  // Held against the frame it is of, it differs by no more than half floats do.
  await page.getByLabel("Compare with").selectOption({ label: "TL-010, frame 9" });
  await page.keyboard.press("Shift+E");
  await settled(page);
  const [own, still] = await Promise.all(
    ["picture", "reference"].map((name) =>
      page
        .locator(`canvas[data-picture=${name}]`)
        .evaluate((node: HTMLCanvasElement) => [
          ...node.getContext("2d")!.getImageData(0, 0, node.width, node.height).data,
        ]),
    ),
  );
  const off = own!.reduce((most, code, i) => Math.max(most, Math.abs(code - still![i]!)), 0);
  expect(off).toBeLessThanOrEqual(2);
  await page.keyboard.press("Shift+E");

  await openBench(page, "TL-030");
  await open(page, "Stills");
  const card = shelf(page, "Stills").getByRole("listitem").filter({ hasText: "Upper station, frame 9" }).first();
  await card.getByRole("button", { name: "Compare" }).click();
  await expect(page.locator("canvas[data-picture=reference]")).toBeVisible();
  await page.keyboard.press("e");
  const plain = await hash(page);
  await card.getByRole("button", { name: "Put on its look" }).click();
  await expect.poll(() => hash(page)).not.toBe(plain);
  expect((await kinds(page, "TL-010")).length).toBeGreaterThan(3);
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
  expect(await kinds(page, "TL-030")).toEqual(await kinds(page, "TL-010"));
  const [file] = await Promise.all([page.waitForEvent("download"), card.getByRole("link", { name: "EXR" }).click()]);
  expect(readFileSync((await file.path())!).readUInt32LE(0)).toBe(20000630);
  await card.getByRole("button", { name: /^Remove still/ }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await expect(card).toHaveCount(0);
  expect(first).not.toBe(plain);
});

test("what several elements added is seen together; the shots of Footage are seen with their looks", async ({
  page,
}) => {
  await openBench(page, "TL-010");
  await piece(page, "Glow").click();
  await page.getByLabel("Inspect").selectOption({ label: "Contribution × 4" });
  const alone = await hash(page);
  await piece(page, "Streak").click({ modifiers: ["ControlOrMeta"] });
  await expect(page.getByText(/^What these 2 elements added and took away/)).toBeVisible();
  await expect.poll(() => hash(page)).not.toBe(alone);
  await page.goto("/footage");
  await page.getByRole("button", { name: "With their looks" }).click();
  await expect(page.getByRole("img", { name: "Upper station with its look" })).toHaveAttribute("data-made", "yes", {
    timeout: 20_000,
  });
});
