import { readFileSync, writeFileSync } from "node:fs";
import { afterAll, describe, expect, test } from "vitest";
import { lookSchema } from "../../core/look/look";
import { cabinetOf, type Profile } from "../../core/profile/profiles";
import { isMet, type Quantity } from "../../core/verify/quantity";
import { markdownOf } from "../../core/verify/table";
import { verify } from "../../core/verify/verify";
import { chartRunner } from "../../server/engine/charts";
import { demoFilters } from "./filters";
import { demoLenses } from "./lenses";

/**
 * Every profile of the demo cabinet, held against what it does to charts. `npm run accuracy` writes the table, of
 * larger charts, to docs/accuracy.md.
 */
const SIZE = process.env.HALO_WRITE_ACCURACY ? { width: 960, height: 540 } : { width: 640, height: 360 };
const SENSOR = { width: 24.9, height: 14.00625 };
const cabinet = cabinetOf([...demoLenses(), ...demoFilters()]);
const { through, close } = chartRunner(cabinet, SIZE);
const sections: string[] = [];

function verified(
  { id, name }: Profile,
  squeeze: number,
  lens: Record<string, unknown>,
  elements: { kind: string; params?: Record<string, unknown> }[],
  note: string,
): Quantity[] {
  const look = lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name,
    camera: { sensor: SENSOR, squeeze },
    lens,
    elements: elements.map((element, i) => ({ id: `e${i}`, ...element })),
    view: { kind: "plain" },
  });
  const { quantities } = verify(look, cabinet, SIZE, through);
  sections.push(`## ${name}\n\n\`${id}\`, ${note}\n\n${markdownOf(quantities)}\n`);
  return quantities;
}

const expectMet = (quantities: Quantity[]) => {
  expect(quantities.length).toBeGreaterThan(0);
  expect(quantities.filter((quantity) => !isMet(quantity))).toEqual([]);
};

describe("lenses keep to their profiles", () => {
  test.each(demoLenses().map((lens) => [lens.name, lens] as const))("%s", (_, lens) => {
    const [focalLength, stop] = [lens.focalLengths![0]!, lens.stops![0]!];
    const kinds = [
      "veil",
      ...(lens.streak ? ["streak"] : []),
      "distortion",
      "lateralColour",
      "sharpness",
      "illumination",
      "transmission",
    ];
    const quantities = verified(
      lens,
      lens.squeeze,
      { profile: lens.id, focalLength, stop },
      kinds.map((kind) => ({ kind })),
      `${focalLength} mm, wide open at T${stop}.`,
    );
    expectMet(quantities);
    expect(new Set(quantities.map(({ kind }) => kind)).size).toBe(kinds.length);
  });
});

describe("filters keep to their profiles", () => {
  const kindOf: Record<string, string> = { lowfog: "fog", silkmesh: "net" };
  test.each(demoFilters().map((filter) => [filter.name, filter] as const))("%s", (_, filter) => {
    const elements = filter.grades.map(({ grade }) => ({
      kind: kindOf[filter.id] ?? "diffusion",
      params: { profile: filter.id, grade },
    }));
    expectMet(
      verified(
        filter,
        1,
        { profile: "plainglass-50", focalLength: 50, stop: 2.8 },
        elements,
        `before 50 mm: its grades ${filter.grades.map(({ grade }) => grade).join(", ")}, one after the other.`,
      ),
    );
  });
});

afterAll(() => {
  close();
  if (!process.env.HALO_WRITE_ACCURACY) return;
  const head = `# Accuracy\n\nWritten by \`npm run accuracy\`: computed charts sent through each profile of the demo cabinet at ${SIZE.width}x${SIZE.height} on a ${SENSOR.width} by ${SENSOR.height} mm sensor at strength 1, as \`bin/halo verify\` does, and measured. Where several places, frequencies or distances were measured, the line shows the one that is furthest off. \`npm test\` fails where a bar is missed.\n`;
  // What was measured from frames has a part of its own, which another test writes.
  const path = "docs/accuracy.md";
  const [, frames] = readFileSync(path, "utf8").split(/^(?=# Measured from frames)/m);
  writeFileSync(path, [head, ...sections, ...(frames ? [frames] : [])].join("\n"));
});
