import fc from "fast-check";
import { afterAll, describe, expect, test } from "vitest";
import { startEngine } from "../../server/engine/engine";
import { bench, flat, halved, hashOf, lookOf, scene, through } from "../../testing/laboratory";
import { compile } from "../compile/compile";
import { cabinetOf } from "../profile/profiles";
import { demoProfiles } from "../../demo/glass/profiles";
import { createMemory } from "./module";
import { Heap } from "./memory";
import { Superseded } from "./engine";

const everything = [
  "diffusion",
  "glow",
  "streak",
  "distortion",
  "lateralColour",
  "illumination",
  "vignette",
  "transmission",
  "grain",
  "trim",
].map((kind) => ({ kind }));
const source = scene(500, 281);

describe("determinism", () => {
  const one = startEngine(1);
  const three = startEngine(3);
  afterAll(() => {
    one.close();
    three.close();
  });
  test("the same bytes on one, two and three threads, at an odd size", () => {
    const look = lookOf(everything);
    const first = hashOf(through(look, source, { on: one }));
    expect(hashOf(through(look, source))).toBe(first);
    expect(hashOf(through(look, source, { on: three }))).toBe(first);
  });
});

test("mix lays part of the result over what came in", () => {
  for (const kind of ["diffusion", "distortion", "trim"]) {
    const params = kind === "trim" ? { exposure: 1 } : {};
    const full = through(lookOf([{ kind, params }]), source);
    const half = through(lookOf([{ kind, mix: 0.5, params }]), source);
    for (let i = 4001; i < half.data.length; i += 9973)
      if ((i & 3) !== 3) expect(half.data[i]!).toBeCloseTo((full.data[i]! + source.data[i]!) / 2, 4);
  }
});

test("values that are not finite are not spread", () => {
  const bad = flat(64, 64, 0.2);
  bad.data[(32 * 64 + 32) * 4] = NaN;
  bad.data[(20 * 64 + 20) * 4 + 1] = Infinity;
  expect(through(lookOf([]), bad).data.every(Number.isFinite)).toBe(true);
});

test("a half-size frame through the whole path equals the full-size one scaled down", () => {
  const whole = scene(640, 352);
  // Detail the half size cannot hold is taken away first.
  const soft = through(lookOf([{ kind: "diffusion", strength: 4 }]), whole);
  const look = lookOf(everything.filter(({ kind }) => kind !== "grain"));
  const [small, reference] = [through(look, halved(soft)), halved(through(look, soft))];
  let squares = 0;
  let count = 0;
  for (let i = 1; i < small.data.length; i += 4) {
    squares += Math.log2(small.data[i]! / reference.data[i]!) ** 2;
    count++;
  }
  expect(Math.sqrt(squares / count)).toBeLessThan(0.05);
});

describe("keeping what came before", () => {
  const cabinet = cabinetOf(demoProfiles());
  const plan = (look: ReturnType<typeof lookOf>, key: string) =>
    compile(look, cabinet, { width: source.width, height: source.height, frame: 1, sourceKey: key }, { kind: "light" });
  test("a change late on the path asks for no source again, and gives the same pixels as from the start", () => {
    const held = startEngine(1, 256 * 2 ** 20);
    const before = lookOf([{ kind: "diffusion" }, { kind: "trim", params: { exposure: 1 } }]);
    const after = lookOf([{ kind: "diffusion" }, { kind: "trim", params: { exposure: 2 } }]);
    held.engine.run(plan(before, "kept"), () => source.data);
    const bytes = held.engine.run(plan(after, "kept"), () => {
      throw new Error("asked for the source again");
    });
    const data = new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice();
    expect(hashOf({ data })).toBe(hashOf(through(after, source)));
    held.close();
  });
  test("a superseded frame stops and gives its memory back", () => {
    bench.engine.run(plan(lookOf([]), "warm"), () => source.data);
    const before = bench.engine.heap.inUse;
    let asked = 0;
    expect(() =>
      bench.engine.run(
        plan(lookOf(everything), "stopped"),
        () => source.data,
        () => ++asked > 5,
      ),
    ).toThrow(Superseded);
    expect(bench.engine.heap.inUse - before).toBeLessThan(2 * source.data.byteLength + 2 ** 21);
  });
  test("what is kept is not planned again: a plan begins where the last one is still held, with the same pixels", () => {
    const held = startEngine(1, 256 * 2 ** 20);
    // A softness of no width is on the path and changes nothing.
    const look = (exposure: number) =>
      lookOf([
        { kind: "diffusion" },
        { kind: "edgeSoftness", params: { blur: 0 } },
        { kind: "distortion" },
        { kind: "trim", params: { exposure } },
      ]);
    const kept = (exposure: number) =>
      compile(
        look(exposure),
        cabinet,
        { width: source.width, height: source.height, frame: 1, sourceKey: "begins" },
        { kind: "light" },
        (key) => held.engine.has(key),
      );
    const [whole, short] = [kept(1), (held.engine.run(kept(1), () => source.data), kept(2))];
    expect([whole.sourceKey, whole.steps.length]).toEqual(["begins", short.steps.length + 2]);
    expect(held.engine.has(short.sourceKey)).toBe(true);
    const read = (plan: typeof short) => {
      const bytes = held.engine.run(plan, () => {
        throw new Error("asked for the source again");
      });
      return { data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() };
    };
    expect(hashOf(read(short))).toBe(hashOf(through(look(2), source)));
    // The very same look once more: nothing is left to do.
    expect(kept(2).steps).toEqual([]);
    expect(hashOf(read(kept(2)))).toBe(hashOf(through(look(2), source)));
    held.close();
  });
});

test("the same pixels whether a result takes the room of what it replaces or everything is kept", () => {
  const cabinet = cabinetOf(demoProfiles());
  const plan = compile(
    lookOf(everything),
    cabinet,
    { width: source.width, height: source.height, frame: 1, sourceKey: "rooms" },
    { kind: "light" },
  );
  const made = (budget: number) => {
    const { engine, close } = startEngine(1, budget);
    const bytes = engine.run(plan, () => source.data);
    const result = {
      pixels: hashOf({ data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() }),
      most: engine.heap.peak,
      left: engine.heap.inUse,
    };
    close();
    return result;
  };
  const [spare, rich] = [made(0), made(512 * 2 ** 20)];
  expect(spare.pixels).toBe(rich.pixels);
  expect(spare.most).toBeLessThan(rich.most);
  expect(spare.left).toBeLessThan(rich.left);
});

test("the heap never gives overlapping room, and takes all of it back", () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 50_000 }), fc.boolean()), { maxLength: 60 }), (steps) => {
      const heap = new Heap(createMemory());
      const taken = new Map<number, number>();
      for (const [bytes, release] of steps) {
        if (release && taken.size) {
          const at = [...taken.keys()][0]!;
          heap.release(at);
          taken.delete(at);
        } else taken.set(heap.allocate(bytes), bytes);
        const places = [...taken].sort((a, b) => a[0] - b[0]);
        places.slice(1).forEach(([at], i) => expect(places[i]![0] + places[i]![1]).toBeLessThanOrEqual(at));
      }
      for (const at of taken.keys()) heap.release(at);
      expect(heap.inUse).toBe(0);
    }),
    { numRuns: 40 },
  );
});

test("a resampling holds two frames at a time: what it reads is given back as soon as its planes are there", () => {
  const frame = flat(512, 512, 0.5);
  const look = lookOf([{ kind: "distortion" }]);
  const request = { width: 512, height: 512, frame: 1, sourceKey: "two frames" };
  const plan = compile(look, cabinetOf(demoProfiles()), request, { kind: "light" });
  const { engine, close } = startEngine(1);
  engine.run(plan, () => frame.data);
  const beside = engine.heap.inUse - frame.data.byteLength;
  expect(engine.heap.peak - beside).toBeLessThan(2.2 * frame.data.byteLength);
  close();
});

test("a source in room of the engine's own is taken as it lies, and given back where no run takes it", () => {
  const { engine, close } = startEngine(1);
  const look = lookOf([{ kind: "distortion" }]);
  const request = { width: source.width, height: source.height, frame: 1 };
  const planOf = (sourceKey: string) =>
    compile(look, cabinetOf(demoProfiles()), { ...request, sourceKey }, { kind: "light" });
  const hash = (key: string, pixels: Float32Array) => {
    const bytes = engine.run(planOf(key), () => pixels);
    return hashOf({ data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() });
  };
  const wanted = hash("copied", source.data);
  engine.release(engine.keep());
  const without = engine.heap.inUse;
  const room = engine.reserve(source.data.length);
  // What lies there is left alone by other runs.
  room.set(source.data);
  hash("another", flat(source.width, source.height, 0.5).data);
  expect(hash("reserved", room)).toBe(wanted);
  engine.release(room);
  // What is kept stands while others are made.
  const kept = engine.keep();
  hash("another still", flat(source.width, source.height, 0.25).data);
  expect(hashOf({ data: kept.slice() })).toBe(wanted);
  engine.release(kept);
  engine.release(engine.keep());
  expect(engine.heap.inUse).toBe(without);
  engine.release(engine.reserve(1000));
  expect(engine.heap.inUse).toBe(without);
  close();
});

test("what lasts does not part the room of frames, and a hole at the end grows", () => {
  const heap = new Heap(createMemory());
  const FRAME = 2 ** 20;
  const [first, second] = [heap.allocate(FRAME), heap.allocate(FRAME)];
  heap.release(first);
  heap.release(second);
  const lasting = heap.allocate(1000, { lasts: true });
  const frames = [heap.allocate(FRAME), heap.allocate(FRAME)];
  expect(new Set([lasting, ...frames]).size).toBe(3);
  expect(Math.max(...frames) + FRAME).toBeLessThan(65536 + 2 * FRAME + 2048);
});

test("a plan of more resamplings than are cached keeps all of its own until it has run", () => {
  const apart = (i: number) => [
    { kind: "lateralColour", strength: 1 + i / 10 },
    { kind: "trim", params: { exposure: i % 2 ? 0.5 : -0.5 } },
    { kind: "sharpen" },
  ];
  const all = Array.from({ length: 14 }, (_, i) => apart(i)).flat();
  const whole = through(lookOf(all), source);
  const half = through(lookOf(all.slice(0, 21)), source);
  expect(hashOf(through(lookOf(all.slice(21)), half))).toBe(hashOf(whole));
});

test("a run that is given up, wherever it is, takes nothing of what is cached along", () => {
  const cabinet = cabinetOf(demoProfiles());
  const { engine, close } = startEngine(1, 64 * 2 ** 20);
  const planOf = (exposure: number, from = "given up") =>
    compile(
      lookOf([
        { kind: "diffusion" },
        { kind: "distortion" },
        { kind: "glow" },
        { kind: "trim", params: { exposure } },
        { kind: "sharpen" },
      ]),
      cabinet,
      { width: source.width, height: source.height, frame: 1, sourceKey: from },
      { kind: "light" },
    );
  const hash = (plan: ReturnType<typeof planOf>) => {
    const bytes = engine.run(plan, () => source.data);
    return hashOf({ data: new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength / 4).slice() });
  };
  const whole = hash(planOf(0));
  for (let after = 1; after < 60; after += 3) {
    let asked = 0;
    const run = () =>
      engine.run(
        planOf(after / 20, `other ${after}`),
        () => source.data,
        () => ++asked > after,
      );
    try {
      run();
    } catch (error) {
      expect(error).toBeInstanceOf(Superseded);
    }
    expect(hash(planOf(0)), `given up after ${after}`).toBe(whole);
    // What is freed twice is given away twice: whatever is made now may lie over what is cached.
    hash(planOf(-after / 20));
    expect(hash(planOf(0)), `given up after ${after}`).toBe(whole);
  }
  close();
});
