import { expect, type Page } from "@playwright/test";
import { picture, pixels, settled } from "../bench-page";

/** What a practitioner does on the Bench, by its name. */

export async function add(page: Page, name: string): Promise<void> {
  await page.getByRole("button", { name: "Glass drawer: add an element" }).click();
  await page.getByRole("dialog", { name: "Glass drawer" }).getByRole("button", { name, exact: true }).click();
  await expect(page.getByRole("heading", { level: 2, name, exact: true })).toBeVisible();
}

/** Puts a ready look on the shot, pulled back. */
export async function wearReady(page: Page, name: string, strength: number): Promise<void> {
  await page.keyboard.press("y");
  await page.getByRole("button", { name: new RegExp(name) }).click();
  const offered = page.getByRole("region", { name: `The look ${name}` });
  await offered.getByRole("slider", { name: "Strength", exact: true }).fill(String(strength));
  await offered.getByRole("button", { name: "Put on this shot" }).click();
  await expect(page.getByRole("textbox", { name: /^Overall strength/ })).toHaveValue(strength.toFixed(2));
  await page.getByRole("button", { name: "Close looks" }).click();
}

/** Types a number into a field, by its label. */
export async function type(page: Page, label: string, value: number | string): Promise<void> {
  const field = page.getByRole("textbox", { name: new RegExp(`^${label}, `) });
  await field.fill(String(value));
  await field.press("Enter");
}

export const choose = (page: Page, label: string, option: string) =>
  page.getByRole("combobox", { name: label, exact: true }).selectOption({ label: option });

/** Goes to a frame by its place in the strip, from 0, of a shot that begins with frame 1. */
export async function goTo(page: Page, place: number): Promise<void> {
  const strip = page.getByRole("slider", { name: "Frame", exact: true });
  await strip.fill(String(place));
  await expect(strip).toHaveAttribute("aria-valuetext", `frame ${place + 1}`);
  await settled(page);
}

/** The mean code value of a part of the picture, given in shares of it. */
export async function meanIn(page: Page, left: number, top: number, width: number, height: number): Promise<number> {
  await settled(page);
  return picture(page).evaluate(
    (node: HTMLCanvasElement, [x, y, w, h]) => {
      const box = [x! * node.width, y! * node.height, w! * node.width, h! * node.height].map(Math.round);
      const { data } = node
        .getContext("2d")!
        .getImageData(box[0]!, box[1]!, Math.max(1, box[2]!), Math.max(1, box[3]!));
      return data.reduce((sum, value, i) => ((i & 3) === 3 ? sum : sum + value), 0) / (data.length * 0.75);
    },
    [left, top, width, height],
  );
}

/** The picture's code values, RGBA. */
export async function codes(page: Page): Promise<number[]> {
  await settled(page);
  const packed = await picture(page).evaluate((node: HTMLCanvasElement) => {
    const { data } = node.getContext("2d")!.getImageData(0, 0, node.width, node.height);
    let text = "";
    for (let i = 0; i < data.length; i += 8192) text += String.fromCharCode(...data.subarray(i, i + 8192));
    return btoa(text);
  });
  return [...Buffer.from(packed, "base64")];
}

/** Where the picture is brightest, in shares of it: the middle of the brightest patch. */
export async function brightest(page: Page): Promise<{ x: number; y: number }> {
  await settled(page);
  return picture(page).evaluate((node: HTMLCanvasElement) => {
    const { width, height } = node;
    const { data } = node.getContext("2d")!.getImageData(0, 0, width, height);
    const cell = 6;
    let best = { light: -1, x: 0, y: 0 };
    for (let y = 0; y + cell < height; y += cell)
      for (let x = 0; x + cell < width; x += cell) {
        let light = 0;
        for (let j = 0; j < cell; j++)
          for (let i = 0; i < cell; i++) {
            const at = ((y + j) * width + x + i) * 4;
            light += data[at]! + data[at + 1]! + data[at + 2]!;
          }
        if (light > best.light) best = { light, x: (x + cell / 2) / width, y: (y + cell / 2) / height };
      }
    return { x: best.x, y: best.y };
  });
}

/** Whether two pictures are the same, code for code: a difference of a million numbers is not told number by number. */
export const same = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((value, i) => value === b[i]);

/** The picture, as a hash. */
export async function hash(page: Page): Promise<string> {
  await settled(page);
  return (await pixels(picture(page))).hash;
}

/** A place of the frame, in shares of it, on the screen. */
export async function onScreen(page: Page, x: number, y: number): Promise<[number, number]> {
  const box = (await picture(page).boundingBox())!;
  return [box.x + box.width * x, box.y + box.height * y];
}

/** Drags from one place of the frame to another, in shares of it. */
export async function drag(page: Page, from: [number, number], to: [number, number]): Promise<void> {
  await page.mouse.move(...(await onScreen(page, ...from)));
  await page.mouse.down();
  await page.mouse.move(...(await onScreen(page, ...to)), { steps: 6 });
  await page.mouse.up();
}

/** Sets a value's keyframe at this frame by the ring beside it. */
export const key = (page: Page, label: string) => page.getByRole("button", { name: new RegExp(`^${label}: `) }).click();

export const inspect = (page: Page, what: string) => page.getByLabel("Inspect").selectOption({ label: what });

/** Takes everything back that was done since the shot was opened. */
export async function undoAll(page: Page): Promise<void> {
  for (const undo = page.getByRole("button", { name: "Undo" }); await undo.isEnabled();) await undo.click();
  await expect(page.getByRole("status", { name: "State of saving" })).toHaveText("Everything is saved");
}
