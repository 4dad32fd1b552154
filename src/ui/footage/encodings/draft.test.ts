import { expect, test } from "vitest";
import { draftOf, draftSchema, FIRST_DRAFT } from "./draft";

const named = { ...FIRST_DRAFT, name: "My log" };
const faultsOf = (draft: typeof named) =>
  draftSchema.safeParse(draft).error!.issues.map(({ path, message }) => [path.join("."), message]);

test("what is typed is the encoding, and an encoding is what would have been typed", () => {
  const encoding = draftSchema.parse(named);
  expect(encoding).toMatchObject({
    id: "my-log",
    log: { base: 2, linSideBreak: 0.0078125 },
    matrix: [[1, 0, 0], {}, {}],
  });
  expect(encoding.log).not.toHaveProperty("linearSlope");
  expect(draftSchema.parse(draftOf(encoding))).toEqual(encoding);
});

test("a fault is told beside its field", () => {
  expect(faultsOf(FIRST_DRAFT)[0]![0]).toBe("name");
  expect(faultsOf({ ...named, params: { ...named.params, base: "one" } })[0]![0]).toBe("params.base");
  expect(faultsOf({ ...named, params: { ...named.params, linSideSlope: "0" } })[0]).toEqual([
    "params.linSideSlope",
    "must not be 0",
  ]);
  expect(faultsOf({ ...named, matrix: named.matrix.with(5, "x") })[0]![0]).toBe("matrix.5");
  expect(faultsOf({ ...named, matrix: named.matrix.map(() => "1") })[0]).toEqual(["matrix", "has no inverse"]);
});
