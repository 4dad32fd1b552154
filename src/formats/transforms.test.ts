import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, test } from "vitest";
import { applier, type Transform } from "../core/colour/transform/transform";
import { at, lookOf, painted, through } from "../testing/laboratory";
import { readCdl, writeCdl } from "./cdl/cdl";
import { readClf } from "./clf/read";
import { writeClf } from "./clf/write";
import { readCube, writeCube } from "./cube/cube";
import { FileError } from "./error";

const folder = join(__dirname, "fixtures", "transforms");
/** Results of Debian's ociochecklut; make.py there says how they were made. */
const { colours, expected } = JSON.parse(readFileSync(join(folder, "expected.json"), "utf8")) as {
  colours: [number, number, number][];
  expected: Record<string, number[][]>;
};
const files = readdirSync(folder).filter((name) => /\.(cube|clf)$/.test(name));
const read = (name: string): Transform =>
  (name.endsWith(".cube") ? readCube : readClf)(name, readFileSync(join(folder, name), "utf8"));
const HALF_A_CODE = 0.5 / 1023;
/**
 * Above 1, half a code of what is there. Float logarithms of zero differ by their smallest number; what is that far
 * down is black.
 */
const close = (value: number, wanted: number) =>
  Math.abs(value - wanted) < HALF_A_CODE * Math.max(1, Math.abs(wanted)) || (value < -5 && wanted < -5);

const results = (transform: Transform) => {
  const apply = applier(transform);
  return colours.map((colour) => {
    const rgb = [...colour] as number[];
    apply(rgb);
    return rgb;
  });
};

describe.each(files)("%s", (name) => {
  test("agrees with an independent tool within half a code value of 10 bits", () => {
    results(read(name)).forEach((rgb, i) =>
      rgb.forEach((value, c) =>
        expect(close(value, expected[name]![i]![c]!), `${colours[i]}: ${rgb} for ${expected[name]![i]}`).toBe(true),
      ),
    );
  });
  test("agrees as a view on the engine", () => {
    const ramp = painted(colours.length, 1, (x) => colours[x]!);
    const out = through(lookOf([], {}, undefined, { kind: "lut", lut: "t", lutInput: "linear-ap1" }), ramp, {
      output: { kind: "codes" },
      tables: [["t", read(name)]],
    });
    colours.forEach((_, x) =>
      [0, 1, 2].forEach((c) =>
        expect(
          close(at(out, x, 0, c), expected[name]![x]![c]!),
          `${colours[x]} ${c}: ${at(out, x, 0, c)} for ${expected[name]![x]}`,
        ).toBe(true),
      ),
    );
  });
  test("written and read again, it does the same", () => {
    const transform = read(name);
    const again = name.endsWith(".cube")
      ? readCube(name, writeCube(transform))
      : readClf(name, writeClf(transform, "x"));
    expect(again.steps.length).toBeGreaterThan(0);
    const [first, second] = [results(transform), results(again)];
    first.forEach((rgb, i) => rgb.forEach((value, c) => expect(second[i]![c]).toBeCloseTo(value, 5)));
    if (name.endsWith(".cube"))
      results(readClf("x.clf", writeClf(transform, "x"))).forEach((rgb, i) =>
        rgb.forEach((value, c) => expect(value).toBeCloseTo(first[i]![c]!, 5)),
      );
  });
});

test("a table whose input is log shows light through both", () => {
  const identity = {
    name: "identity",
    steps: [{ kind: "lut1d", size: 2, low: [0, 0, 0], high: [1, 1, 1], table: Float32Array.of(0, 0, 0, 1, 1, 1) }],
  } satisfies Transform;
  const ramp = painted(3, 1, (x) => Array(3).fill([0, 0.18, 1][x]!) as [number, number, number]);
  const out = through(lookOf([], {}, undefined, { kind: "lut", lut: "t", lutInput: "acescct" }), ramp, {
    output: { kind: "codes" },
    tables: [["t", identity]],
  });
  [0.0729055, 0.4135884, 0.5547945].forEach((code, x) => expect(at(out, x, 0)).toBeCloseTo(code, 5));
});

describe("ASC CDL", () => {
  const all = [
    { id: "TL-010 & co", slope: [1.1, 0.9, 1], offset: [0.01, -0.02, 0], power: [1, 1.2, 0.8], saturation: 0.9 },
    { id: "two", slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1.4 },
  ] as Parameters<typeof writeCdl>[0];
  test.each(["ccc", "cdl"] as const)("a .%s comes back", (kind) => {
    const back = readCdl(`x.${kind}`, writeCdl(all, kind));
    expect(back.map(({ id: _, ...rest }) => rest)).toEqual(all.map(({ id: _, ...rest }) => rest));
    expect(back).toHaveLength(2);
  });
  test("an independent tool's collection is read", () => {
    const [first] = readCdl(
      "tool.ccc",
      '<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.2"><ColorCorrection id="a"><SOPNode><Description>d</Description><Slope>1.1 1 0.9</Slope><Offset> 0.1 0 -0.1 </Offset><Power>1 1 1</Power></SOPNode><SATNode><Saturation>0.7</Saturation></SATNode></ColorCorrection></ColorCorrectionCollection>',
    );
    expect(first).toEqual({ id: "a", slope: [1.1, 1, 0.9], offset: [0.1, 0, -0.1], power: [1, 1, 1], saturation: 0.7 });
  });
});

test.each([
  ["a.cube", "LUT_3D_SIZE 2\n0 0 0\n", /a\.cube: has 1 rows; its size asks for 8/],
  ["b.cube", "LUT_3D_SIZE 5000\n", /b\.cube: line 1: LUT_3D_SIZE is a whole number from 2 to 129/],
  ["c.cube", "LUT_1D_SIZE 2\n0 0\n1 1 1\n", /c\.cube: line 2: a row of the table is three numbers/],
  ["d.clf", "<ProcessList><Matrix", /d\.clf: is not XML/],
  ["e.clf", '<!DOCTYPE x [<!ENTITY a "b">]><ProcessList/>', /declares a document type/],
  [
    "f.clf",
    '<ProcessList><Log inBitDepth="32f" outBitDepth="32f" style="natural"/></ProcessList>',
    /f\.clf: Log: style: is “natural”/,
  ],
  ["g.ccc", "<a/>", /g\.ccc: has no ColorCorrection/],
])("%s that is wrong gives one clear error", (name, text, says) => {
  const parse = () =>
    name.endsWith(".cube") ? readCube(name, text) : name.endsWith(".clf") ? readClf(name, text) : readCdl(name, text);
  expect(parse).toThrow(FileError);
  expect(parse).toThrow(says);
});

describe("XML that would only take time", () => {
  const clf = (inside: string, attributes = "") =>
    `<?xml version="1.0"?><ProcessList id="a" compCLFversion="3.0" ${attributes}>${inside}</ProcessList>`;
  const matrix = '<Matrix inBitDepth="32f" outBitDepth="32f"><Array dim="3 3">1 0 0 0 1 0 0 0 1</Array></Matrix>';
  const many = Array.from({ length: 100 }, (_, i) => `a${i}="x"`).join(" ");
  test.each([
    ["steps", clf(matrix.repeat(65)), /a\.clf: has 65 steps; 64 are read/],
    ["elements", clf("<Info/>".repeat(100_001)), /a\.clf: has more than 100000 elements/],
    ["attributes", clf(matrix, many), /a\.clf: has an element with more than 64 attributes/],
    ["depth", clf(`${"<Info>".repeat(5000)}${"</Info>".repeat(5000)}`), /a\.clf: is nested more than 32 deep/],
  ])("is refused by its %s", (_, text, message) => expect(() => readClf("a.clf", text)).toThrow(message));
  test("and as many as are read are", () => expect(readClf("a.clf", clf(matrix.repeat(64))).steps).toHaveLength(64));
});
