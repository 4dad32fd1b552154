import { spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "vitest";
import { lookSchema } from "../core/look/look";
import { readCdl, writeCdl } from "../formats/cdl/cdl";

const folder = mkdtempSync(join(tmpdir(), "halo-cdl-"));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const at = (name: string) => join(folder, name);
const halo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync("bin/halo", ["cdl", ...args], { encoding: "utf8" });
  return { status, stdout, stderr };
};

const SHOTS = ["TL-010", "TL-020"].map((id, i) => ({
  id,
  slope: [1.1 + i, 1, 0.9] as [number, number, number],
  offset: [0.01, 0, -0.02] as [number, number, number],
  power: [1, 0.95, 1.05] as [number, number, number],
  saturation: 0.8,
}));

test("a correction comes into a look as a trim in the encoding it was made in, and goes out again the same", () => {
  writeFileSync(at("shots.ccc"), writeCdl(SHOTS, "ccc"));
  const look = ["--look", "examples/first-light.json"];
  const into = halo(...look, "--in", at("shots.ccc"), "--id", "TL-020", "--out", at("graded.json"));
  expect(into).toMatchObject({ status: 0, stdout: expect.stringMatching(/with “TL-020”, in acescct/) });
  const { elements } = lookSchema.parse(JSON.parse(readFileSync(at("graded.json"), "utf8")));
  expect(elements.filter(({ kind }) => kind === "trim").at(-1)).toMatchObject({
    params: { space: "acescct", slope: SHOTS[1]!.slope, saturation: 0.8 },
  });
  for (const kind of ["cdl", "cc"]) {
    expect(halo("--look", at("graded.json"), "--out", at(`again.${kind}`))).toMatchObject({ status: 0 });
    const [again] = readCdl("again", readFileSync(at(`again.${kind}`), "utf8"));
    const { id: _, ...numbers } = SHOTS[1]!;
    expect(again).toMatchObject(numbers);
  }
});

test("what does not fit is refused by its option", () => {
  writeFileSync(at("one.cc"), writeCdl(SHOTS, "cc"));
  const look = ["--look", "examples/first-light.json"];
  const refused = (...args: string[]) => {
    const { status, stderr } = halo(...look, ...args);
    expect(status).toBe(2);
    return stderr;
  };
  expect(refused("--in", at("one.cc"), "--id", "TL-999", "--out", at("never.json"))).toMatch(
    /--id TL-999: .* has TL-010/,
  );
  expect(refused("--in", at("one.cc"), "--space", "film", "--out", at("never.json"))).toMatch(
    /--space film: is no encoding/,
  );
  expect(refused("--in", at("one.cc"), "--out", at("never.cdl"))).toMatch(/--out .*: is a look/);
  expect(refused("--out", at("never.cdl"))).toMatch(/has no trim/);
});
