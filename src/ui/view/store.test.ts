import { expect, test } from "vitest";
import { toggled, UNCOMPARED } from "./compare";
import { PICTURE } from "./inspect";
import { openView, setView, viewNow } from "./store";

test("selecting another element ends picking; opening another shot leaves nothing of the last one", () => {
  setView({ picking: { id: "area-1", before: null, take: () => {} } });
  setView({ frame: 3 });
  expect(viewNow().picking).not.toBeNull();
  setView({ selected: null });
  expect(viewNow().picking).toBeNull();
  setView({ compare: toggled(UNCOMPARED, "side"), inspect: { kind: "matte" }, playing: true });
  openView({ frame: 9, selected: null });
  expect(viewNow()).toMatchObject({ compare: UNCOMPARED, inspect: PICTURE, playing: false, frame: 9 });
});
