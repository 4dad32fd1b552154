import sharp from "sharp";
import { expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import { chartSheet, PAPERS, type SheetKind } from "./chart-sheet";
import type { Plane } from "./plane";
import { measureEdges } from "./edges/edges";
import { measureGrid } from "./grid";

/** The chart as a camera that is a little soft would see it, drawn by a library of its own. */
async function seen(kind: SheetKind, width: number): Promise<Plane> {
  const { data, info } = await sharp(Buffer.from(chartSheet(kind, PAPERS.a4)))
    .resize({ width })
    .greyscale()
    .blur(0.9)
    .raw()
    .toBuffer({ resolveWithObject: true });
  // Code values stand for light here: an edge is one on either. Paper without any noise would be taken for clipped.
  const next = numbers(7);
  const light = Float64Array.from(data, (code) => 0.05 + code / 300 + 0.004 * (next() - 0.5));
  return { width: info.width, height: info.height, data: light };
}

test("every edge of the printed chart is one that is measured", async () => {
  const { edges, refused } = measureEdges(await seen("edges", 1600));
  expect(edges).toHaveLength(4 * 4 * 3);
  expect(refused).toEqual([]);
});

test("the printed grid is found, and is straight", async () => {
  const plane = await seen("grid", 1600);
  const pitch = 24 / plane.width;
  const { dots, residual, coefficients } = measureGrid({
    planes: { red: plane, green: plane, blue: plane },
    pitchX: pitch,
    pitchY: pitch,
    axisX: (plane.width - 1) / 2,
    axisY: (plane.height - 1) / 2,
    focalLength: 50,
    model: "radial-tangential",
  });
  expect(dots.length).toBeGreaterThan(200);
  expect(residual).toBeLessThan(0.1);
  // At the frame's corner, 0.29 focal lengths out, the largest term moves a place by less than a tenth of a pixel.
  expect(Math.abs(coefficients.k1!) * 0.29 ** 3 * (50 / pitch)).toBeLessThan(0.5);
});

test("it is printed to scale: its size is in mm, and so are its places", () => {
  const sheet = chartSheet("grid", PAPERS.a3);
  expect(sheet).toContain('width="420mm" height="297mm" viewBox="-210 -148.5 420 297"');
  expect(sheet).toContain('<circle cx="0" cy="0"');
});
