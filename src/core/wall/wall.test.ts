import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf } from "../../testing/laboratory";
import { elementNamed, elementsOf, valueAt } from "../look/edit";
import { stretchOf } from "../look/camera";
import { cabinetOf } from "../profile/profiles";
import { type Axis, axisSchema, axisTitle, nearestFirst, UnknownName, wallOf } from "./axis";
import { axisIn, axisText } from "./axis-text";
import { pdfOfJpeg } from "./pdf";
import { sheetLayout } from "./sheet";

const cabinet = cabinetOf(demoProfiles());
const glass = { cabinet, looks: new Map(), frame: 1 };
const look = lookOf([{ kind: "diffusion", params: { profile: "milkglass", grade: "1/4" } }, { kind: "glow" }], {
  profile: "orrin-vale-50",
  focalLength: 50,
  stop: 2,
});
const axis = (text: string): Axis => axisSchema.parse(axisIn(text));

describe("axes as they are written", () => {
  test.each([
    "lens=orrin-vale-50,hask-scope-40",
    "stop=1.4,2,2.8",
    "focalLength=25,50",
    "strength=0,0.5,1",
    "filter=milkglass:1/8,milkglass:1/4,hearth:1/2",
    "look=warm,cold",
    "e1.gain=1,2.5",
    "e1.blend=add,screen",
    "e1.clean=true,false",
  ])("%s means the same when it is read again", (text) => {
    expect(axisText(axis(text))).toBe(text);
  });

  test("grades go on with the filter named before them, and focal is a focal length", () => {
    expect(axis("filter=milkglass:1/8, 1/4,hearth:1/2")).toEqual(axis("filter=milkglass:1/8,milkglass:1/4,hearth:1/2"));
    expect(axis("focal=25")).toEqual({ kind: "focalLength", values: [25] });
  });

  test.each([
    ["lens", /write what changes and its values/],
    ["lens=a,,b", /write what changes/],
    ["glass=a", /“glass” is nothing that changes/],
    ["stop=2,wide", /stop: “wide” is no number/],
    ["filter=1/8", /“1\/8” has no name before it/],
  ])("%s is refused in words", (text, reason) => {
    expect(() => axisIn(text)).toThrow(reason);
  });
});

describe("tiles", () => {
  test("each is the look with what stands over it and beside it, as the Bench sets them", () => {
    const wall = wallOf(
      look,
      axis("lens=hask-scope-40,plainglass-50"),
      axis("filter=milkglass:1/8,1,hearth:1/2"),
      glass,
    );
    expect([wall.across, wall.down]).toEqual([
      ["Hask Scope 40", "Plainglass 50"],
      ["Milkglass 1/8", "Milkglass 1", "Hearth 1/2"],
    ]);
    expect(wall.tiles.map(({ row, column }) => `${row}${column}`)).toEqual(["00", "01", "10", "11", "20", "21"]);
    const last = wall.tiles[5]!.look;
    expect([last.lens.profile, last.lens.focalLength]).toEqual(["plainglass-50", 50]);
    expect(elementNamed(last, "e0").params).toMatchObject({ profile: "hearth", grade: "1/2" });
    expect(wall.tiles[0]!.look.lens.focalLength).toBe(40);
    // The look itself is as it was.
    expect(look.lens.profile).toBe("orrin-vale-50");
  });

  test("a lens on a path without one brings what it was measured for; one that has some keeps its choice", () => {
    const kinds = (of: typeof look) => elementsOf(of).map(({ kind }) => kind);
    const bare = wallOf(look, axis("lens=orrin-vale-25"), null, glass).tiles[0]!.look;
    expect(kinds(bare)).toEqual(expect.arrayContaining(["distortion", "sharpness", "illumination", "transmission"]));
    const own = lookOf([{ kind: "distortion" }], { profile: "orrin-vale-50" });
    expect(kinds(wallOf(own, axis("lens=orrin-vale-25"), null, glass).tiles[0]!.look)).toEqual(["distortion"]);
  });

  test("a filter on a path without one stands before all else, in the element that has it", () => {
    const bare = lookOf([{ kind: "glow" }]);
    const [first] = elementsOf(wallOf(bare, axis("filter=silkmesh:fine"), null, glass).tiles[0]!.look);
    expect(first).toMatchObject({ kind: "net", params: { profile: "silkmesh", grade: "fine" } });
  });

  test("other looks go first whichever side they are on, and strength last", () => {
    const looks = new Map([["other", { label: "Other", look: lookOf([{ kind: "grain" }]) }]]);
    const wall = wallOf(look, axis("strength=0.5"), axis("look=other"), { ...glass, looks });
    const swapped = wallOf(look, axis("look=other"), axis("strength=0.5"), { ...glass, looks });
    expect(wall.tiles[0]!.look).toEqual(swapped.tiles[0]!.look);
    expect(valueAt(wall.tiles[0]!.look, [null, "strength"])).toBe(0.5);
    expect(elementsOf(wall.tiles[0]!.look).map(({ kind }) => kind)).toEqual(["grain"]);
    expect(wall.tiles[0]!.look.view).toEqual(look.view);
  });

  test("a parameter goes by its element's id or kind, with its name and unit", () => {
    const byKind = axis("glow.size=2,8");
    const wall = wallOf(look, byKind, null, glass);
    expect(axisTitle(byKind, look)).toMatch(/^Glow, /);
    expect(wall.across[1]).toMatch(/^8 %/);
    expect(wall.tiles.map((tile) => elementNamed(tile.look, "e1").params.size)).toEqual([2, 8]);
  });

  test.each([
    ["lens=none", /no lens “none”/],
    ["filter=milkglass:9", /Milkglass has no grade “9”; it has 1\/8/],
    ["look=none", /no look “none”/],
    ["veil.fraction=1", /the look has no element “veil”/],
    ["glow.nothing=1", /Glow has no parameter “nothing”; it has strength, mix, /],
  ])("%s, which is not there, is told", (text, reason) => {
    expect(() => wallOf(look, axis(text), null, glass)).toThrow(UnknownName);
    expect(() => wallOf(look, axis(text), null, glass)).toThrow(reason);
  });

  test("the nearest are made first", () => {
    const { tiles } = wallOf(look, axis("stop=2,2.8,4,5.6"), axis("strength=0,1,2"), glass);
    const order = nearestFirst(tiles, { row: 2, column: 3 });
    expect([order[0], order.at(-1)].map((tile) => [tile!.row, tile!.column])).toEqual([
      [2, 3],
      [0, 0],
    ]);
  });
});

test("on the page no tile and no label lies over another, and all lie on it", () => {
  const words = { title: "T", subtitle: "S", acrossTitle: "A", downTitle: "D" };
  const layout = sheetLayout({ ...words, across: ["a", "b", "c"], down: ["x", "y"] }, { width: 320, height: 180 });
  expect(layout.tiles).toHaveLength(6);
  const apart = layout.tiles.every((one, i) =>
    layout.tiles.every(
      (other, j) =>
        i === j ||
        one.x + one.width <= other.x ||
        other.x + other.width <= one.x ||
        one.y + one.height <= other.y ||
        other.y + other.height <= one.y,
    ),
  );
  const isOn = layout.tiles.every(
    ({ x, y, width, height }) => x >= 0 && y >= 0 && x + width <= layout.width && y + height <= layout.height,
  );
  const over = layout.texts.filter(({ x, y }) =>
    layout.tiles.some((tile) => x >= tile.x && x <= tile.x + tile.width && y > tile.y && y < tile.y + tile.height),
  );
  expect([apart, isOn, over]).toEqual([true, true, []]);
});

test("a PDF's table leads to each of its objects, and its picture is there byte by byte", () => {
  const jpeg = Uint8Array.from({ length: 300 }, (_, i) => (i * 7) % 256);
  const pdf = Buffer.from(pdfOfJpeg(jpeg, { width: 640, height: 360 }, "Wall, 50 % ½"));
  const text = pdf.toString("latin1");
  const table = Number(/startxref\n(\d+)\n%%EOF/.exec(text)![1]);
  expect(text.slice(table, table + 4)).toBe("xref");
  const offsets = [...text.slice(table).matchAll(/(\d{10}) 00000 n/g)].map(([, at]) => Number(at));
  expect(offsets.map((at) => text.slice(at, at + 7))).toEqual([1, 2, 3, 4, 5, 6].map((n) => `${n} 0 obj`));
  expect(pdf.includes(Buffer.from(jpeg))).toBe(true);
  expect(text).toMatch(/MediaBox \[0 0 841.89 595.28\]/);
});

test("squeezed frames are shown as wide as they were seen; those that were widened already, as they are", () => {
  const camera = { sensor: { width: 24.9, height: 14 }, squeeze: 2 };
  expect(stretchOf(camera, { width: 1920, height: 1080 })).toBe(2);
  expect(stretchOf(camera, { width: 3840, height: 1080 })).toBe(1);
  expect(stretchOf({ ...camera, squeeze: 1 }, { width: 500, height: 500 })).toBe(1);
});
