import { expect, test } from "vitest";
import { toggled, UNCOMPARED } from "../compare/compare";
import { PICTURE } from "./inspect";
import { useBench } from "./store";

const bench = () => useBench.getState();

test("selecting another element ends picking; opening another shot leaves nothing of the last one", () => {
  bench().set({ picking: { id: "area-1", before: null, take: () => {} } });
  bench().set({ frame: 3 });
  expect(bench().picking).not.toBeNull();
  bench().set({ selected: null });
  expect(bench().picking).toBeNull();
  bench().set({ compare: toggled(UNCOMPARED, "side"), inspect: { kind: "matte" }, playing: true });
  bench().open({ frame: 9, selected: null });
  expect(bench()).toMatchObject({ compare: UNCOMPARED, inspect: PICTURE, playing: false, frame: 9 });
});
