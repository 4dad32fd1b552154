import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../../demo/glass/profiles";
import { lensSchema, type LensProfile } from "../profiles";
import { fromCsv, toCsv } from "./csv";
import { ADDABLE, type Addable, newSheet, withFrequency, withoutFrequency } from "./new-sheet";
import { sheetsOf, withSheet } from "./sheets";

/** What CSV has no place for, and where a table came from. */
const bare = (profile: object): unknown =>
  JSON.parse(
    JSON.stringify(profile, (key, value: unknown) =>
      ["origin", "uncertainty", "veil", "pupil", "ghosts", "streak", "swirl", "focalLengths", "stops"].includes(key)
        ? undefined
        : value,
    ),
  );

describe("every profile of the demo", () => {
  test.each(demoProfiles().map((profile) => [profile.id, profile] as const))(
    "%s goes through CSV and back",
    (_, one) => {
      expect(bare(fromCsv(toCsv(one)))).toEqual(bare(one));
    },
  );
  test.each(demoProfiles().map((profile) => [profile.id, profile] as const))("%s is its own sheets", (_, one) => {
    expect(bare(sheetsOf(one).reduce(withSheet, one))).toEqual(bare(one));
  });
});

test("a changed sheet says so, and the others stay", () => {
  const lens = demoProfiles().find(({ id }) => id === "orrin-vale-50") as LensProfile;
  const sheet = sheetsOf(lens).find(({ id }) => id === "illumination/50/2")!;
  const changed = withSheet(lens, {
    ...sheet,
    rows: [
      [0, 1],
      [10, 0.5],
    ],
  }) as LensProfile;
  const table = changed.illumination!.find(({ stop }) => stop === 2)!;
  expect(table).toMatchObject({ heights: [0, 10], relative: [1, 0.5], origin: { how: "changed by hand" } });
  expect(changed.illumination!.filter(({ stop }) => stop !== 2)).toEqual(
    lens.illumination!.filter(({ stop }) => stop !== 2),
  );
  expect(changed.mtf).toBe(lens.mtf);
});

test("a row that one direction of contrast gains, the other one has, too, as it was measured about there", () => {
  const lens = demoProfiles().find(({ id }) => id === "orrin-vale-50") as LensProfile;
  const sheet = sheetsOf(lens).find(({ id }) => id === "sagittal/50/2")!;
  const before = lens.mtf!.find(({ stop }) => stop === 2)!;
  const [first, second, ...rest] = sheet.rows as [number[], number[], ...number[][]];
  const between = first.map((value, k) => (value + second[k]!) / 2);
  const changed = withSheet(lens, { ...sheet, rows: [first, between, second, ...rest] }) as LensProfile;
  const after = changed.mtf!.find(({ stop }) => stop === 2)!;
  expect(after.meridional).toHaveLength(before.meridional.length + 1);
  expect(after.meridional.filter((_, i) => i !== 1)).toEqual(before.meridional);
  const [low, high] = [before.meridional[0]!, before.meridional[1]!];
  after.meridional[1]!.forEach((value, k) => expect((value - low[k]!) * (high[k]! - value)).toBeGreaterThanOrEqual(0));
  expect(after.uncertainty).toBeUndefined();
});

test("a spreadsheet's file: semicolons, decimal commas, cells left over", () => {
  const text =
    "profile;lens;;\nid;own;;\nname;Own;;\n;;;\nillumination;focalLength;50;stop;2\nheight (mm);relative;;\n0;1\n7,5;0,82;\n";
  expect(fromCsv(text)).toMatchObject({ id: "own", illumination: [{ heights: [0, 7.5], relative: [1, 0.82] }] });
});

test.each([
  ["", /line 1: a profile begins with/],
  ["profile,lens\nid,x\nname,X\ncolour,red\n", /line 4: “colour” is not known here/],
  ["profile,lens\nid,x\nname,X\n\nglow,focalLength,50\n", /line 5: “glow” is no table; there are sagittal/],
  ["profile,lens\nid,x\nname,X\n\nillumination,focalLength,50\nh,r\n0,1\n", /line 5: .* needs stop/],
  ["profile,lens\nid,x\nname,X\n\ntransmission\nnm,t\n400,0.9,7\n", /line 7: has 3 cells/],
  ["profile,lens\nid,x\nname,X\n\ntransmission\nnm,t\n400,much\n", /line 7: t: “much” is no number/],
  ["profile,lens\nid,x\nname,X\n\ntransmission\nnm,t\n500,0.9\n400,0.8\n", /must ascend/],
])("%j is refused with its line", (text, reason) => {
  expect(() => fromCsv(text)).toThrow(reason);
});

describe("tables and frequencies that are new", () => {
  const bare: LensProfile = { format: "pale-halo-lens", version: 1, id: "bare", name: "Bare", squeeze: 1 };

  test.each(Object.keys(ADDABLE) as Addable[])("a new table of %s is valid, is there, and does nothing", (kind) => {
    const sheet = newSheet(kind, 50, 2.8, 14);
    const lens = lensSchema.parse(withSheet(bare, sheet));
    const found = sheetsOf(lens).find(({ id }) => id === sheet.id)!;
    expect(found.rows).toEqual(sheet.rows);
    expect(found.columns).toEqual(sheet.columns);
  });

  test("a frequency more is read off between its neighbours, in both directions, and can be taken out again", () => {
    const sagittal = { ...newSheet("sagittal", 50, 2.8, 14), rows: [[0, 0.9, 0.8, 0.7, 0.6]] };
    const meridional = { ...sagittal, id: "meridional/50/2.8", rows: [[0, 0.8, 0.6, 0.4, 0.2]] };
    const lens = withSheet(withSheet(bare, sagittal), meridional) as LensProfile;
    const wider = withFrequency(sheetsOf(lens)[0]!, 25);
    expect(wider.columns).toEqual(["height (mm)", "10 lp/mm", "20 lp/mm", "25 lp/mm", "30 lp/mm", "40 lp/mm"]);
    const [table] = (withSheet(lens, wider) as LensProfile).mtf!;
    expect(table!.sagittal[0]![2]).toBeCloseTo(0.75, 3);
    expect(table!.meridional[0]![2]).toBeCloseTo(0.5, 3);
    expect(table!.meridional[0]![4]).toBe(0.2);
    expect(withoutFrequency(wider, 25).rows).toEqual(sagittal.rows);
  });
});
