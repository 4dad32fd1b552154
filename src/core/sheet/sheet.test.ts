import { expect, test } from "vitest";
import { XMLValidator } from "fast-xml-parser";
import { demoProfiles } from "../../demo/glass/profiles";
import { demoLooks } from "../../demo/looks";
import { lookOf } from "../../testing/laboratory";
import { ELEMENTS } from "../elements/registry";
import { cabinetOf } from "../profile/profiles";
import { glassSheet, type SheetShot } from "./contents";
import { sheetHtml } from "./html";
import { plotSvg } from "./plot";

const cabinet = cabinetOf(demoProfiles());
const NO_OVERSCAN = { left: 12, top: 0, right: 12, bottom: 0, isMore: false };
const shot: SheetShot = {
  ...{ name: "TL-010 Upper station", footage: "TL-010.%04d.exr", width: 1920, height: 1080, frames: [[1, 24]] },
  ...{ frameRate: 24, timeCode: "10:00:00:00", encoding: "linear-ap1", hasDepth: false },
};
const factsOf = (look: Parameters<typeof glassSheet>[0], heading: string) =>
  Object.fromEntries(
    glassSheet(look, cabinet, shot, NO_OVERSCAN).groups.find((group) => group.heading === heading)!.facts,
  );

test("a lens that is pulled over the shot is told from where to where", () => {
  const still = lookOf([{ kind: "distortion" }], { profile: "orrin-vale-50", focalLength: 50, stop: 2 });
  expect(factsOf(still, "Glass")).toMatchObject({ Lens: "Orrin Vale 50", "Focal length": "50.0 mm", Stop: "T2.0" });
  const keys = [
    { frame: 1, value: 4, ease: "linear" as const },
    { frame: 24, value: 1.5, ease: "linear" as const },
  ];
  const pulled = { ...still, when: { "lens.focusDistance": { keys } } } as typeof still;
  expect(factsOf(pulled, "Glass").Focus).toMatch(
    /^4\.00 m at the first frame, 1\.50 m at the last; 1\.50 m to 4\.00 m$/,
  );
});

test("geometry says what the element says, the overscan, and the maps beside the frames", () => {
  const look = lookOf([{ kind: "distortion" }], { profile: "orrin-vale-25", focalLength: 25, stop: 2 });
  const sheet = glassSheet(look, cabinet, shot, NO_OVERSCAN);
  const facts = factsOf(look, "Geometry");
  expect(sheet.elements[0]!.note).toContain(`Largest displacement ${facts["Largest displacement"]}`);
  expect(facts["Overscan needed"]).toBe("left 12, top 0, right 12, bottom 0 px");
  expect(facts["Distortion maps"]).toBe("beside the frames, where they are ordered; or by halo stmap --look");
  const apart = lookOf([{ kind: "lateralColour" }], { profile: "orrin-vale-25", focalLength: 25, stop: 2 });
  expect(factsOf(apart, "Geometry")["Distortion maps"]).toBe("none: nothing moves the picture");
});

test("every element has its strength, what of it has a say with its unit, and a drawing that is well-formed", () => {
  const look = lookOf(
    ELEMENTS.map(({ kind }) => ({ kind, strength: 0.8 })),
    { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
  );
  const { elements } = glassSheet(look, cabinet, shot, NO_OVERSCAN);
  expect(elements).toHaveLength(ELEMENTS.length);
  const glow = elements.find(({ title }) => title === "Glow")!;
  expect(glow.amount).toBe("80 % of the measured amount");
  expect(Object.fromEntries(glow.facts).Threshold).toMatch(/ stops$/);
  const drawn = elements.flatMap(({ response }) => (response ? [plotSvg(response)] : []));
  expect(drawn.filter(Boolean).length).toBeGreaterThan(ELEMENTS.length / 2);
  expect(drawn.filter(Boolean).map((svg) => XMLValidator.validate(svg))).toEqual(drawn.filter(Boolean).map(() => true));
  expect(drawn.join()).not.toMatch(/NaN|Infinity/);
});

test("what is measured and not applied is drawn broken, what is the same only once", () => {
  const half = lookOf([{ kind: "illumination", strength: 0.5 }], { profile: "orrin-vale-50", stop: 2 });
  const whole = lookOf([{ kind: "illumination" }], { profile: "orrin-vale-50", stop: 2 });
  const svg = (look: typeof half) => plotSvg(glassSheet(look, cabinet, shot, NO_OVERSCAN).elements[0]!.response!);
  expect(svg(half).match(/stroke-dasharray/g)).toHaveLength(1);
  expect(svg(whole)).not.toContain("stroke-dasharray");
});

test("as a page it is whole, needs nothing beside it, and takes names as text", () => {
  const look = { ...demoLooks()["TL-010"]!, name: 'Last <service> & "snow"' };
  const html = sheetHtml(glassSheet(look, cabinet, shot, NO_OVERSCAN), "Pale Halo.");
  expect(html).toContain("<h1>Last &lt;service&gt; &amp; &quot;snow&quot;</h1>");
  expect(html).not.toMatch(/<(script|link|img)|https?:\/\//);
  expect(html.match(/<article>/g)).toHaveLength(look.elements.length);
});
