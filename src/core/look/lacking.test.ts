import { expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { lookOf } from "../../testing/laboratory";
import { cabinetOf } from "../profile/profiles";
import { elementsOf } from "./edit";
import { missingGlass } from "./glass";
import { lacking, lackText, withStandIn } from "./lacking";
import { takingSchema } from "./taking";

const here = { cabinet: cabinetOf(demoProfiles()), shots: [{ id: "TL-010", name: "Upper station" }], hasDepth: false };
const strange = lookOf(
  [
    { kind: "diffusion", params: { profile: "frostglass", grade: "1/4" } },
    { kind: "diffusion", params: { profile: "milkglass", grade: "9" } },
    { kind: "plate", params: { footage: "snow-plate" } },
    { kind: "defocus", params: { by: "depth" } },
    { kind: "defocus", params: { by: "highlights" } },
  ],
  { profile: "lost-scope-40", focalLength: 40 },
);

test("what a look names and is not here is listed, the lens first; what is here is not", () => {
  const found = lacking({ ...strange, camera: { ...strange.camera, squeeze: 2 } }, here);
  expect(found.map(({ what, element }) => [what, element])).toEqual([
    ["lens", null],
    ["filter", "e0"],
    ["grade", "e1"],
    ["footage", "e2"],
    ["depth", "e3"],
  ]);
  expect(found[0]!.standIns[0]!.value).toBe("hask-scope-40");
  expect(lacking(lookOf([{ kind: "diffusion" }, { kind: "grain" }]), here)).toEqual([]);
  expect(lacking(strange, { ...here, hasDepth: true }).map(({ what }) => what)).not.toContain("depth");
});

test("with stand-ins, or done without, nothing is lacking that a render would miss", () => {
  const without = lacking(strange, here).reduce((look, lack) => withStandIn(look, lack, null), strange);
  expect(lacking(without, here).map(({ what }) => what)).toEqual([]);
  expect(missingGlass(without, here.cabinet)).toEqual([]);
  const nearest = lacking(strange, here).reduce(
    (look, lack) => (lack.standIns.length ? withStandIn(look, lack, lack.standIns[0]!.value) : look),
    strange,
  );
  expect(missingGlass(nearest, here.cabinet)).toEqual([]);
  expect(elementsOf(nearest)[2]!.params).toMatchObject({ footage: "TL-010" });
});

test("a taking lens that is not here has one that stands in, or is left on", () => {
  const look = lookOf([]);
  const taken = {
    ...look,
    camera: { ...look.camera, taking: takingSchema.parse({ profile: "lost-prime-50", focalLength: 50, stop: 2 }) },
  };
  const [lack] = lacking(taken, here);
  expect(lackText(lack!, taken)).toBe("there is no taking lens “lost-prime-50” here");
  const stands = withStandIn(taken, lack!, lack!.standIns[0]!.value);
  expect(here.cabinet.lenses.has(stands.camera.taking!.profile)).toBe(true);
  expect(withStandIn(taken, lack!, null).camera.taking).toBeUndefined();
});

test("each lack is said in one line", () => {
  expect(lacking(strange, here).map((lack) => lackText(lack, strange))).toEqual([
    "there is no lens “lost-scope-40” here",
    "Diffusion: there is no filter “frostglass” here",
    "Diffusion: there is no grade “9” here",
    "Plate: there is no footage “snow-plate” here",
    "Defocus: this footage does not say how far things are; it acts as if all were as far",
  ]);
});
