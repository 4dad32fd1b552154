import { expect, test } from "vitest";
import { toggled, UNCOMPARED } from "./compare";
import { PICTURE } from "./inspect";
import { hearView, openView, setView, viewNow } from "./store";

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

test("while it plays, what rests stays with the frame where it began; those who hear are told once a change", () => {
  openView({ frame: 4, selected: null });
  const told: number[] = [];
  const leave = hearView(({ frame }) => told.push(frame));
  setView({ playing: true });
  setView({ frame: 5 });
  expect(viewNow()).toMatchObject({ frame: 5, restingFrame: 4 });
  setView({ playing: false });
  expect(viewNow().restingFrame).toBe(5);
  leave();
  setView({ frame: 6 });
  expect(told).toEqual([4, 5, 5]);
});
