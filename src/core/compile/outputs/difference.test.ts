import { expect, test } from "vitest";
import { flat, lookOf, painted, scene, through } from "../../../testing/laboratory";
import { contribution } from "../../look/excerpt";
import type { Look } from "../../look/look";
import type { Frame } from "../../image/image";

/** RGBA 8-bit pixels of an output, as bytes. */
const bytesOf = ({ data }: Frame) => new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
const difference = (look: Look, reference: Look, times: number, frame: Frame) =>
  bytesOf(through(look, frame, { output: { kind: "difference", reference, times } }));
const shown = (frame: Frame) => bytesOf(through(lookOf([]), frame, { output: { kind: "display" } }));

const picture = scene(96, 64);
const halved = lookOf([{ kind: "trim", params: { exposure: -1 } }]);

test("a look differs from itself nowhere: mid-grey throughout", () => {
  expect(difference(halved, halved, 64, picture)).toEqual(shown(flat(96, 64, 0.18)));
});

test("what was added and taken is shown so many times about mid-grey, through the view", () => {
  const footage = lookOf([]);
  for (const times of [1, 8]) {
    const expected = painted(96, 64, (x, y) => {
      const at = (y * 96 + x) * 4;
      const taken = (c: number) => 0.18 - (times * picture.data[at + c]!) / 2;
      return [taken(0), taken(1), taken(2)];
    });
    const [found, wanted] = [difference(halved, footage, times, picture), shown(expected)];
    expect(found.reduce((most, value, i) => Math.max(most, Math.abs(value - wanted[i]!)), 0)).toBeLessThanOrEqual(1);
  }
});

test("a contribution is an element's own, at its place: what comes after it has no part in it", () => {
  const glow = { kind: "glow", params: { threshold: 2, gain: 60 } };
  const alone = contribution(lookOf([glow]), ["e0"]);
  const followed = contribution(lookOf([glow, { kind: "trim", params: { exposure: 3 } }]), ["e0"]);
  const frame = { ...picture };
  expect(difference(followed.look, followed.reference, 4, frame)).toEqual(
    difference(alone.look, alone.reference, 4, frame),
  );
  expect(difference(alone.look, alone.reference, 4, frame)).not.toEqual(shown(flat(96, 64, 0.18)));
});

test("a contribution goes by the lens and the overall strength as they are timed", () => {
  const keys = [
    { frame: 1, value: 0, ease: "linear" as const },
    { frame: 11, value: 1, ease: "linear" as const },
  ];
  const look = { ...halved, when: { strength: { keys } } } as Look;
  const { look: with_, reference } = contribution(look, ["e0"]);
  const at = (frame: number) =>
    bytesOf(through(with_, picture, { frame, output: { kind: "difference", reference, times: 4 } }));
  expect(at(1)).toEqual(shown(flat(96, 64, 0.18)));
  expect(at(11)).not.toEqual(at(1));
});

test("what several elements contribute together is what is gone without them, whatever stands between", () => {
  const look = lookOf([
    { kind: "trim", params: { exposure: 1 } },
    { kind: "glow", params: { threshold: 2 } },
    { kind: "trim", params: { exposure: -1 } },
    { kind: "grain" },
  ]);
  const trims = contribution(look, ["e0", "e2"]);
  expect(trims.look.elements.map(({ id }) => id)).toEqual(["e0", "e1", "e2"]);
  expect(trims.reference.elements.map(({ id }) => id)).toEqual(["e1"]);
  const both = contribution(
    lookOf([
      { kind: "trim", params: { exposure: 1 } },
      { kind: "trim", params: { exposure: -1 } },
    ]),
    ["e0", "e1"],
  );
  // One stop up and one down is nothing at all.
  expect(difference(both.look, both.reference, 64, picture)).toEqual(shown(flat(96, 64, 0.18)));
});
