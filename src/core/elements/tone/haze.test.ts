import { describe, expect, test } from "vitest";
import { LUMINANCE } from "../../colour/primaries";
import { tonalPart } from "../../export/tonal-part";
import { lookAt } from "../../look/at-frame";
import { cabinetOf } from "../../profile/profiles";
import { flat, lookOf, painted, through } from "../../../testing/laboratory";
import { hazeColour } from "./haze";

/** Tone that does nothing but its haze. */
const hazed = (params: object, strength = 1) =>
  lookOf([{ kind: "tone", strength, params: { toe: 0, shoulder: 0, haze: 20, knee: 0, threshold: -8, ...params } }]);

describe("the haze of tone", () => {
  test("lays the light parts' own tone over an even field: so much more of it", () => {
    const out = through(hazed({}), flat(64, 48, 0.18));
    expect(out.data[(24 * 64 + 32) * 4]!).toBeCloseTo(0.18 * 1.2, 3);
    const half = through(hazed({}, 0.5), flat(64, 48, 0.18));
    expect(half.data[(24 * 64 + 32) * 4]!).toBeCloseTo(0.18 * 1.1, 3);
  });

  test("adds light and takes none, more of it near what is bright, and only what its key takes", () => {
    const lamp = painted(96, 64, (x) => (x < 20 ? [2, 2, 2] : [0.02, 0.02, 0.02]));
    const out = through(hazed({ threshold: 1, hazeReach: 15 }), lamp);
    const added = (x: number) => out.data[(32 * 96 + x) * 4]! - lamp.data[(32 * 96 + x) * 4]!;
    expect(added(24)).toBeGreaterThan(added(40));
    expect(added(40)).toBeGreaterThan(added(70));
    expect(added(90)).toBeGreaterThanOrEqual(0);
    const dark = through(hazed({ threshold: 4 }), flat(64, 48, 0.18));
    expect(dark.data[(24 * 64 + 32) * 4]!).toBeCloseTo(0.18, 6);
  });

  test("ends at its radius from its point, and its matte says so", () => {
    const params = { hazeX: -25, hazeY: 0, hazeRadius: 30 };
    const frame = flat(128, 64, 0.5);
    const out = through(hazed(params), frame);
    const [near, far] = [32, 96].map((x) => out.data[(32 * 128 + x) * 4]!);
    expect(near!).toBeCloseTo(0.6, 3);
    expect(far!).toBeCloseTo(0.5, 6);
    const matte = through(hazed(params), frame, { output: { kind: "matte", element: "e0" } });
    const bytes = new Uint8Array(matte.data.buffer, matte.data.byteOffset, matte.data.byteLength);
    expect(bytes[(32 * 128 + 32) * 4]).toBeGreaterThan(250);
    expect(bytes[(32 * 128 + 96) * 4]).toBe(0);
  });

  test("its bias changes its colour and not its luminance", () => {
    for (const redGreen of [-1, 0, 0.6])
      for (const blueYellow of [-0.5, 0, 1]) {
        const colour = hazeColour({ redGreen, blueYellow }, LUMINANCE);
        expect(colour.reduce((sum, value, c) => sum + value * LUMINANCE[c]!, 0)).toBeCloseTo(1, 10);
      }
    const [r, g] = hazeColour({ redGreen: 0.5, blueYellow: 0 }, LUMINANCE);
    expect(g).toBeGreaterThan(r);
    const [, , b] = hazeColour({ redGreen: 0, blueYellow: -0.5 }, LUMINANCE);
    expect(b).toBeGreaterThan(1);
  });

  test("is no part of what a table holds; the curve is", () => {
    const look = hazed({ toe: 0.3 });
    const { look: tonal, leftOut } = tonalPart(look, lookAt(look, cabinetOf([]), { width: 64, height: 48, frame: 1 }));
    expect(tonal.elements).toMatchObject([{ kind: "tone", params: { haze: 0, toe: 0.3 } }]);
    expect(leftOut.map(({ label }) => label)).toEqual(["Tone, its haze"]);
  });
});
