import { readFileSync, writeFileSync } from "node:fs";
import { expect, test } from "vitest";
import { assemblyRecords, layoutOf, pack } from "../core/engine/records";

/** What the kernels are compiled with; written anew by `npm run records`. */
const FILE = "assembly/records.ts";

test("the kernels read records where the declarations say", () => {
  if (process.env.HALO_WRITE_RECORDS) writeFileSync(FILE, assemblyRecords());
  expect(readFileSync(FILE, "utf8")).toBe(assemblyRecords());
});

test("vectors are aligned, a triple leaves its fourth lane, tables stand behind", () => {
  const fields = { a: "px", weights: "triple", judged: ["sum", "most"], on: "flag", points: "table" } as const;
  expect(layoutOf(fields)).toEqual({ offsets: { a: 0, weights: 16, judged: 28, on: 32, points: 36 }, length: 48 });
  const bytes = pack(fields, { a: 2, weights: [3, 4, 5], judged: "most", on: true, points: new Float32Array([6, 7]) });
  const view = new DataView(bytes.buffer);
  expect(bytes.length).toBe(64);
  expect([view.getFloat32(0, true), view.getFloat32(24, true)]).toEqual([2, 5]);
  expect([28, 32, 36].map((at) => view.getInt32(at, true))).toEqual([1, 1, 48]);
  expect([48, 52].map((at) => view.getFloat32(at, true))).toEqual([6, 7]);
});
