import type { Depth } from "../src/core/image/image";
import { unpackSamples } from "../src/core/image/samples";
import type { Matrix3 } from "../src/core/maths/matrix";
import { expect, type Locator, type Page } from "@playwright/test";

export const picture = (page: Page) => page.locator("canvas[data-picture=picture]");

/** Waits until the newest picture is shown in full. */
export const settled = (page: Page) =>
  expect(page.getByRole("region", { name: "Picture" })).toHaveAttribute("aria-busy", "false", { timeout: 60_000 });

/** The picture's pixels, as a hash and as a mean code value. */
export const pixels = (canvas: Locator) =>
  canvas.evaluate(async (node: HTMLCanvasElement) => {
    const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
    const digest = await crypto.subtle.digest("SHA-256", data);
    const mean = data.reduce((sum, value, i) => ((i & 3) === 3 ? sum : sum + value), 0) / (data.length * 0.75);
    return {
      hash: [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, "0")).join(""),
      mean,
      width: node.width,
    };
  });

export async function openBench(page: Page, shot = "TL-010"): Promise<void> {
  await page.goto(`/bench/${shot}`);
  await settled(page);
}

export const piece = (page: Page, name: string) =>
  page
    .getByRole("list", { name: "Elements in the order light meets them" })
    .getByRole("button", { name: new RegExp(`^${name},`) });

/** What the browser says that it should not: errors and warnings of the console. */
export function listen(page: Page): string[] {
  const said: string[] = [];
  // Reading the picture back again and again is these tests' doing, not the application's.
  page.on(
    "console",
    (message) =>
      ["error", "warning"].includes(message.type()) &&
      !message.text().includes("willReadFrequently") &&
      said.push(message.text()),
  );
  page.on("pageerror", (error) => said.push(error.message));
  return said;
}

/** Takes files in and waits until their shots are there. */
export async function takeIn(page: Page, files: string[]): Promise<void> {
  await page.goto("/footage");
  await page.getByLabel("Files to take in").setInputFiles(files);
  await page.getByRole("button", { name: /^Take in (one|\d)/ }).click();
  await expect(page.getByText(/taken in$/).first()).toBeVisible();
}

/** A frame's working light, RGBA, as the engine fetches it. */
export async function lightOf(page: Page, shot: string, frame: number): Promise<Float32Array> {
  const answer = await page.request.get(`/api/shots/${shot}/frames/${frame}`);
  const told = answer.headers();
  const body = await answer.body();
  return unpackSamples(
    {
      width: Number(told["x-width"]),
      height: Number(told["x-height"]),
      channels: told["x-channels"] === "3" ? 3 : 4,
      depth: told["x-samples"] as Depth,
      toWorking: told["x-to-working"] ? (JSON.parse(told["x-to-working"]) as Matrix3) : undefined,
    },
    new Uint8Array(body).buffer,
  );
}

/** Drags the middle of something by so many px. */
export async function dragBy(page: Page, what: Locator, x: number, y: number): Promise<void> {
  const box = (await what.boundingBox())!;
  const [fromX, fromY] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(fromX, fromY);
  await page.mouse.down();
  await page.mouse.move(fromX + x, fromY + y, { steps: 6 });
  await page.mouse.up();
}
