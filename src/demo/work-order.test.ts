import { describe, expect, test } from "vitest";
import { createPlates } from "./render/picture";
import { packPlates, unpackPlates } from "./plates-file";
import { type Asked, nextStep, type ShotWork } from "./work-order";

const work = (shotId: string, change: Partial<ShotWork> = {}): ShotWork => ({
  shotId,
  plates: "ready",
  isReading: false,
  bands: [],
  opening: 3,
  frames: [1, 2, 3, 4, 5, 6],
  ...change,
});

/** Does all there is to do, a step at a time, and says in which order. */
function order(works: ShotWork[], asked: readonly Asked[] = []): string[] {
  const done: string[] = [];
  for (let step = nextStep(works, asked); step; step = nextStep(works, asked)) {
    const own = works.find(({ shotId }) => shotId === step.shotId)!;
    if (step.kind === "read") own.plates = "ready";
    if (step.kind === "trace") {
      own.bands = own.bands.filter((band) => band !== step.band);
      if (!own.bands.length) own.plates = "ready";
    }
    if (step.kind === "frame") own.frames = own.frames.filter((number) => number !== step.number);
    done.push(`${step.shotId} ${step.kind === "frame" ? step.number : step.kind}`);
  }
  return done;
}

describe("the order in which footage is made", () => {
  test("what every shot opens on comes first, then the rest", () => {
    expect(order([work("a", { frames: [1, 2, 3] }), work("b", { frames: [2, 3] })])).toEqual([
      "a 3",
      "b 3",
      "a 1",
      "a 2",
      "b 2",
    ]);
  });

  test("a frame that is asked for is the next one, then its shot from there on", () => {
    const steps = order([work("a"), work("b")], [{ shotId: "b", number: 4 }]);
    expect(steps.slice(0, 6)).toEqual(["b 4", "b 3", "b 5", "b 6", "b 1", "b 2"]);
  });

  test("several that are asked for come newest first, whatever shot they are of", () => {
    const asked = [
      { shotId: "b", number: 6 },
      { shotId: "a", number: 2 },
    ];
    const steps = order([work("a"), work("b")], asked);
    expect(new Set(steps.slice(0, 2))).toEqual(new Set(["b 6", "a 2"]));
    // What is open now is finished before the one that was.
    expect(steps[2]).toBe("b 3");
  });

  test("plates are read or traced only when their shot's turn comes, and never twice", () => {
    const works = [work("a", { plates: "file", frames: [3] }), work("b", { plates: "missing", bands: [0, 8] })];
    expect(nextStep(works, [])).toEqual({ kind: "read", shotId: "a" });
    works[0]!.isReading = true;
    expect(nextStep(works, [])).toEqual({ kind: "trace", shotId: "b", band: 0 });
    works[1]!.bands = [];
    // All that is left waits for what is being done.
    expect(nextStep(works, [])).toBeNull();
  });

  test("a shot that has all its frames is left alone", () => {
    expect(nextStep([work("a", { plates: "missing", bands: [0], frames: [] })], [])).toBeNull();
  });
});

test("plates are the same after they were kept; those of another size are refused", async () => {
  const plates = createPlates(16, 8, 2, 5);
  for (const floats of [plates.light, plates.depth, plates.surface, plates.layer!])
    for (let i = 0; i < floats.length; i++) floats[i] = Math.sin(i);
  const frame = { width: 32, height: 16 };
  const file = await packPlates(plates, frame);
  expect(await unpackPlates(file, frame)).toEqual(plates);
  await expect(unpackPlates(file, { width: 16, height: 8 })).rejects.toThrow(/for 32x16/);
  await expect(unpackPlates(file.subarray(0, 40), frame)).rejects.toThrow();
});
