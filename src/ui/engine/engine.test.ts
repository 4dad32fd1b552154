import { afterEach, describe, expect, test } from "vitest";
import { compile } from "@/core/compile/compile";
import { cabinetOf } from "@/core/profile/profiles";
import { demoProfiles } from "@/demo/glass/profiles";
import { bench, flat, lookOf, scene, through } from "@/testing/laboratory";
import { NO_OVERSCAN } from "@/core/image/overscan";
import type { Problem } from "../../contract/problems";
import { type Channel, createEngineClient } from "./client";
import { type FetchedFrame, FetchProblem } from "./fetch-frame";
import { createHost } from "./host/host";
import type { AnswerTo, OrderOf, Picture, QuestionKind } from "./questions";
import { PRIORITY } from "./questions";

/** The engine's client and its host, on Node's engine, with the messages between them as the browser clones them. */

const [WIDTH, HEIGHT] = [96, 54];
const fetched = (frame = scene(WIDTH, HEIGHT)): FetchedFrame => ({
  ...frame,
  overscan: NO_OVERSCAN,
  hasDepth: false,
  cleaned: { notNumbers: 0, infinite: 0 },
});

interface Fetch {
  address: string;
  signal: AbortSignal;
  give(frame: FetchedFrame): void;
  refuse(error: Error): void;
}

/** `isOpen`: frames are given by hand; else at once. */
async function setUp(isOpen = false) {
  const fetches: Fetch[] = [];
  const fetchFrame = (address: string, signal: AbortSignal) =>
    new Promise<FetchedFrame>((give, refuse) => {
      fetches.push({ address, signal, give, refuse });
      signal.addEventListener("abort", () => refuse(new DOMException("gone", "AbortError")));
      if (!isOpen) give(fetched());
    });
  const host = createHost({
    startEngine: () => Promise.resolve(bench.engine),
    fetchFrame,
    send: (message) => queueMicrotask(() => client.hear(structuredClone(message))),
  });
  const client = createEngineClient((message) => host.hear(message), 1);
  await client.ready;
  client.setCabinet(demoProfiles(), []);
  const channel = client.openChannel(PRIORITY.picture);
  const ask = <K extends QuestionKind>(kind: K, order: OrderOf<K>, on: Channel = channel) =>
    new Promise<AnswerTo<K>>((answered, failed) =>
      on.ask(kind, order, answered, (problem) => failed(Object.assign(new Error(problem.message), problem))),
    );
  return { client, channel, fetches, ask };
}

let serial = 0;
const order = (change: object = {}) => ({
  look: lookOf([{ kind: "glow" }, { kind: "grain" }]),
  shotId: `shot-${serial}`,
  encoding: "linear-ap1",
  plates: "",
  frame: 3,
  shot: { first: 1, last: 9 },
  frameRate: 24,
  divide: 1,
  ...change,
});
afterEach(() => void serial++);
const settle = () => new Promise((resolve) => setTimeout(resolve, 5));
const display = { output: { kind: "display" } } as const;

describe("every question has its answer", () => {
  test("a picture is, byte for byte, what a plan of the same look makes", async () => {
    const { ask } = await setUp();
    const { look } = order();
    const made = await ask("picture", { ...order(), ...display });
    const plan = compile(
      look,
      cabinetOf(demoProfiles()),
      {
        width: WIDTH,
        height: HEIGHT,
        frame: 3,
        shot: { first: 1, last: 9 },
        frameRate: 24,
        sourceKey: `own ${serial}`,
      },
      { kind: "display" },
    );
    const wanted = bench.engine.run(plan, () => scene(WIDTH, HEIGHT).data);
    expect(made).toMatchObject({ width: WIDTH, height: HEIGHT, top: 0, rows: HEIGHT, divide: 1 });
    expect(Buffer.compare(Buffer.from(made.pixels), Buffer.from(wanted))).toBe(0);
  });

  test("rows are those of the whole", async () => {
    const { ask } = await setUp();
    const whole = await ask("picture", { ...order(), ...display });
    const part = await ask("picture", { ...order({ rows: [10, 20] }), ...display });
    expect(part).toMatchObject({ top: 10, rows: 10 });
    expect([...part.pixels]).toEqual([...whole.pixels.slice(10 * WIDTH * 4, 20 * WIDTH * 4)]);
  });

  test("a viewing exposure is a gain in light before the view, and leaves the light as it is", async () => {
    const { ask } = await setUp();
    const look = lookOf([]);
    const trimmed = lookOf([{ kind: "trim", params: { exposure: 2 } }]);
    const shown = await ask("picture", { ...order({ look }), output: { kind: "display", exposure: 2 } });
    const wanted = await ask("picture", { ...order({ look: trimmed }), ...display });
    let most = 0;
    for (const [i, code] of shown.pixels.entries()) most = Math.max(most, Math.abs(code - wanted.pixels[i]!));
    expect(most).toBeLessThanOrEqual(1);
  });

  test("light under a pixel is the look's light there, on smaller frames at the pixel that stands for it", async () => {
    const { ask } = await setUp();
    const [r, g, b] = await ask("light", { ...order(), x: 40, y: 20 });
    const wanted = through(order().look, scene(WIDTH, HEIGHT), { frame: 3, shot: { first: 1, last: 9 } });
    const at = (20 * WIDTH + 40) * 4;
    expect([r, g, b]).toEqual([...wanted.data.slice(at, at + 3)]);
    const far = await ask("light", { ...order({ divide: 2 }), x: 2 * WIDTH - 1, y: 2 * HEIGHT - 1 });
    const last = (WIDTH * HEIGHT - 1) * 4;
    const corner = await ask("light", { ...order(), x: WIDTH - 1, y: HEIGHT - 1 });
    expect(corner).toEqual([...wanted.data.slice(last, last + 3)]);
    expect(far).toEqual(corner);
  });

  test("a histogram counts every pixel, scopes every column, a ramp has its steps, and a verdict is given", async () => {
    const { ask } = await setUp();
    const bins = await ask("histogram", { ...order(), judged: "maximum" });
    expect(bins.reduce((sum, count) => sum + count, 0)).toBeGreaterThan(0.9 * WIDTH * HEIGHT);
    const part = { x: 0, y: 0, width: 1, height: 1 };
    const counts = await ask("scopes", { ...order(), output: { kind: "scopes", scale: "code", part, vectors: false } });
    expect(counts.luma.reduce((sum, count) => sum + count, 0)).toBe(WIDTH * HEIGHT);
    const ramp = await ask("ramp", order());
    expect(ramp.signal.length).toBe(ramp.width * 4);
    expect(ramp.picture.length).toBe(ramp.width * ramp.height * 4);
    const judged = await ask("judged", order());
    expect(JSON.stringify(judged)).toContain("clipped");
  });
});

describe("channels", () => {
  test("only the newest question of a channel is answered; the one before does not hold it up, whatever it waits for", async () => {
    const { channel, fetches, ask } = await setUp(true);
    const told: string[] = [];
    channel.ask("picture", { ...order({ frame: 1 }), ...display }, () => told.push("old"));
    await settle();
    const newest = ask("picture", { ...order({ frame: 2 }), ...display });
    await settle();
    expect(fetches.map(({ address }) => /frames\/(\d)/.exec(address)![1])).toEqual(["1", "2"]);
    // Nobody waits for the first frame any more: it is given up.
    expect(fetches.map(({ signal }) => signal.aborted)).toEqual([true, false]);
    fetches[1]!.give(fetched());
    expect((await newest).width).toBe(WIDTH);
    expect(told).toEqual([]);
  });

  test("a control that moves before its frame is there waits for the one fetch", async () => {
    const { fetches, ask, channel } = await setUp(true);
    channel.ask("picture", { ...order(), ...display }, () => {});
    await settle();
    const moved = ask("picture", { ...order({ look: lookOf([{ kind: "grain", strength: 0.5 }]) }), ...display });
    await settle();
    expect(fetches).toHaveLength(1);
    fetches[0]!.give(fetched());
    expect((await moved).height).toBe(HEIGHT);
  });

  test("what one of a higher priority asks is answered first", async () => {
    const { client, ask, fetches } = await setUp(true);
    const [first, idle, read] = [PRIORITY.compared, PRIORITY.idle, PRIORITY.read].map(client.openChannel);
    const told: string[] = [];
    // It waits for its frame while the others come.
    const all = [ask("picture", { ...order(), ...display }, first).then(() => told.push("first"))];
    await settle();
    all.push(ask("light", { ...order(), x: 1, y: 1 }, idle).then(() => told.push("idle")));
    all.push(ask("histogram", { ...order(), judged: "maximum" }, read).then(() => told.push("read")));
    all.push(ask("picture", { ...order(), ...display }).then(() => told.push("picture")));
    fetches[0]!.give(fetched());
    await Promise.all(all);
    expect(told).toEqual(["first", "picture", "read", "idle"]);
  });

  test("why there is no answer comes as a code, with words beside it", async () => {
    const { fetches, ask } = await setUp(true);
    const asked = ask("picture", { ...order(), ...display });
    await settle();
    fetches[0]!.refuse(new FetchProblem("still-computing", "Frame 3 is still being computed"));
    const problem = await asked.catch((error: Problem) => error);
    expect(problem).toMatchObject({ code: "still-computing", message: "Frame 3 is still being computed" });
    const again = ask("picture", { ...order(), ...display });
    await settle();
    expect(fetches).toHaveLength(2);
    fetches[1]!.give(fetched());
    expect(((await again) as Picture).width).toBe(WIDTH);
  });

  test("a closed channel is told nothing", async () => {
    const { client, fetches } = await setUp(true);
    const own = client.openChannel(PRIORITY.picture);
    let told = 0;
    own.ask("picture", { ...order(), ...display }, () => told++);
    await settle();
    own.close();
    fetches[0]!.give(fetched());
    await settle();
    expect(told).toBe(0);
  });
});

describe("frames fetched ahead", () => {
  test("come two at a time, are given up where others are wanted, and are not fetched again when asked for", async () => {
    const { client, fetches, ask } = await setUp(true);
    const ahead = (frames: number[]) =>
      client.prefetch(
        frames.map((frame) => order({ frame })),
        2,
      );
    const open = () =>
      fetches.filter(({ signal }) => !signal.aborted).map(({ address }) => address.at(-1 - "?".length));
    ahead([4, 5, 6]);
    await settle();
    expect(fetches).toHaveLength(2);
    ahead([5, 7]);
    await settle();
    expect(fetches.map(({ signal }) => signal.aborted)).toEqual([true, false, false]);
    expect(open()).toHaveLength(2);
    fetches[1]!.give(fetched(flat(WIDTH, HEIGHT, 0.18)));
    await settle();
    await ask("picture", { ...order({ frame: 5 }), ...display });
    expect(fetches).toHaveLength(3);
  });

  test("one that is asked for meanwhile is kept, whatever is to be fetched ahead next", async () => {
    const { client, fetches, ask } = await setUp(true);
    client.prefetch([order({ frame: 4 })], 1);
    await settle();
    const asked = ask("picture", { ...order({ frame: 4 }), ...display });
    await settle();
    client.prefetch([], 1);
    await settle();
    expect(fetches.map(({ signal }) => signal.aborted)).toEqual([false]);
    fetches[0]!.give(fetched());
    expect((await asked).width).toBe(WIDTH);
  });
});
