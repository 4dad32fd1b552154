import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { bench, lookOf, painted, through } from "../../testing/laboratory";
import type { Frame } from "../image/image";
import { colourOfVector, countsOf, histogramOf, vectorOf } from "./count";
import { PlanBuilder } from "../engine/plan";
import {
  COLUMNS,
  LEVELS,
  type ScopeArea,
  planCount,
  SCALES,
  type ScopeScale,
  VECTORS,
  WHOLE_FRAME,
} from "../compile/outputs/scopes";

const [width, height] = [640, 90];
let serial = 0;

/** Counts of a picture as it stands: its own values are the signal, or the light. */
function counted(frame: Frame, scale: ScopeScale, part: ScopeArea = WHOLE_FRAME, vectors = false) {
  const builder = new PlanBuilder(frame.width, frame.height, `counted ${serial++}`);
  builder.step("count", planCount(builder, 0, { scale, part, vectors }));
  return countsOf(bench.engine.run(builder.finish(), () => frame.data));
}
const total = (counts: Uint32Array) => counts.reduce((sum, value) => sum + value, 0);
const levelsOf = (counts: Uint32Array) => [...histogramOf(counts)].flatMap((count, level) => (count ? [level] : []));

describe("levels", () => {
  test("a ramp from black to white is a line from the lower left to the upper right", () => {
    const ramp = painted(width, height, (x) => [x / (width - 1), x / (width - 1), x / (width - 1)]);
    const { red, luma, pixels } = counted(ramp, "code");
    expect(pixels).toBe(width * height);
    for (const counts of [red, luma]) {
      expect(total(counts)).toBe(width * height);
      for (let column = 0; column < COLUMNS; column += 13) {
        const wanted = ((column + 0.5) / COLUMNS) * LEVELS;
        const found = counts.slice(column * LEVELS, (column + 1) * LEVELS).findIndex((count) => count > 0);
        expect(Math.abs(found - wanted), `column ${column}`).toBeLessThan(2);
      }
    }
  });
  test("in stops, light stands where its logarithm does, within a hundredth of the scale", () => {
    const { from, to } = SCALES.stops;
    for (const stops of [-9.5, -6, -1, 0, 0.5, 3, 7.9]) {
      const light = 0.18 * 2 ** stops;
      const grey = painted(32, 8, () => [light, light, light]);
      const [level] = levelsOf(counted(grey, "stops").green);
      expect(Math.abs((level! + 0.5) / LEVELS - (stops - from) / (to - from)), `${stops} stops`).toBeLessThan(0.01);
    }
  });
  test("what is beyond the scale stands at its end: nothing is lost, black and below is lowest", () => {
    const beyond = painted(30, 4, (x) => [x < 10 ? -1 : x < 20 ? 0 : 900, 0.5, 4]);
    for (const scale of ["code", "stops"] as const) {
      const { red } = counted(beyond, scale);
      expect(total(red)).toBe(120);
      expect(levelsOf(red)).toEqual([0, LEVELS - 1]);
    }
  });
  test("luma is BT.709's of the signal", () => {
    const colours = painted(3, 1, (x) => [x === 0 ? 1 : 0, x === 1 ? 1 : 0, x === 2 ? 1 : 0]);
    const { luma } = counted(colours, "code");
    expect(levelsOf(luma)).toEqual([0.0722, 0.2126, 0.7152].map((value) => Math.floor(value * LEVELS)));
  });
  test("of a part, only the part: its left edge is the first column", () => {
    const halves = painted(width, height, (x) => (x < width / 2 ? [0.1, 0.1, 0.1] : [0.9, 0.9, 0.9]));
    const right = { x: 0.5, y: 0.25, width: 0.5, height: 0.5 };
    const { red, pixels } = counted(halves, "code", right);
    expect(pixels).toBe((width / 2) * Math.ceil(0.75 * height - Math.floor(0.25 * height)));
    expect(levelsOf(red)).toEqual([Math.floor(0.9 * LEVELS)]);
    expect(red[Math.floor(0.9 * LEVELS)]).toBeGreaterThan(0);
  });
  test("a part that lies beyond the frame, or is a line, counts at least a pixel and never fails", () => {
    const frame = painted(20, 10, () => [0.5, 0.5, 0.5]);
    const share = fc.double({ min: -2, max: 3, noNaN: true });
    const size = fc.double({ min: 0, max: 3, noNaN: true });
    fc.assert(
      fc.property(share, share, size, size, (x, y, w, h) => {
        const { red, pixels } = counted(frame, "code", { x, y, width: w, height: h });
        expect(total(red)).toBe(pixels);
        expect(pixels).toBeGreaterThanOrEqual(1);
        expect(pixels).toBeLessThanOrEqual(200);
      }),
    );
  });
});

describe("vectors", () => {
  const cellOf = (r: number, g: number, b: number) => {
    const counts = counted(
      painted(2, 2, () => [r, g, b]),
      "code",
      WHOLE_FRAME,
      true,
    ).vectors!;
    const at = counts.indexOf(4);
    return [at % VECTORS, Math.floor(at / VECTORS)] as const;
  };
  test("greys of any brightness stand in the middle", () => {
    for (const grey of [0, 0.2, 0.5, 1])
      for (const place of cellOf(grey, grey, grey))
        expect(Math.abs(place - (VECTORS - 1) / 2)).toBeLessThanOrEqual(0.5);
  });
  test("the primaries stand where the standard's colour differences put them: red upwards, blue to the right", () => {
    // ITU-R BT.709: E'CB = (E'B - E'Y) / 1.8556, E'CR = (E'R - E'Y) / 1.5748.
    expect(vectorOf(1, 0, 0)[0]).toBeCloseTo(-0.2126 / 1.8556, 6);
    expect(vectorOf(1, 0, 0)[1]).toBeCloseTo(0.5, 6);
    expect(vectorOf(0, 0, 1)[0]).toBeCloseTo(0.5, 6);
    expect(vectorOf(0, 1, 0)[1]).toBeCloseTo(-0.7152 / 1.5748, 6);
    const [redX, redY] = cellOf(0.75, 0, 0);
    const [blueX, blueY] = cellOf(0, 0, 0.75);
    expect(redY).toBeLessThan(VECTORS / 4);
    expect(redX).toBeLessThan(VECTORS / 2);
    expect(blueX).toBeGreaterThan((3 * VECTORS) / 4);
    expect(blueY).toBeGreaterThan(VECTORS / 2);
  });
  test("a colour and its complement stand opposite one another, and each is found again by its place and luma", () => {
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true }))), ([r, g, b]) => {
        const [x, y] = vectorOf(r!, g!, b!);
        const [cx, cy] = vectorOf(1 - r!, 1 - g!, 1 - b!);
        expect(cx).toBeCloseTo(-x, 9);
        expect(cy).toBeCloseTo(-y, 9);
        const luma = 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
        colourOfVector(luma, x, y).forEach((value, c) => expect(value).toBeCloseTo([r!, g!, b!][c]!, 9));
      }),
    );
  });
});

test("as an output they count what the view shows, or the light before it", () => {
  const scene = painted(64, 32, (x, y) => [0.02 + x / 64, 0.18, 2 * (y / 32)]);
  const look = lookOf([{ kind: "trim", params: { exposure: 1 } }], {}, undefined, "soft");
  const shown = (scale: ScopeScale, kind: "codes" | "light") => {
    const output = { kind: "scopes" as const, scale, part: WHOLE_FRAME, vectors: true };
    const bytes = through(look, scene, { output }).data;
    return {
      found: countsOf(new Uint8Array(bytes.buffer)),
      wanted: counted(through(look, scene, { output: { kind } }), scale),
    };
  };
  for (const [scale, kind] of [
    ["code", "codes"],
    ["stops", "light"],
  ] as const) {
    const { found, wanted } = shown(scale, kind);
    expect(found.pixels).toBe(64 * 32);
    for (const plane of ["red", "green", "blue", "luma"] as const) expect(found[plane]).toEqual(wanted[plane]);
    expect(found.vectors !== null).toBe(scale === "code");
  }
});
