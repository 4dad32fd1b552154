import { describe, expect, test } from "vitest";
import { lookOf } from "@/testing/laboratory";
import type { Problem } from "../../contract/problems";
import type { FrameOrder, Picture, PictureOrder } from "../engine/questions";
import { type Clock, createPictureScheduler, enoughFor, type Wanted } from "./scheduler";

/** A clock that is turned by hand. */
function handClock(): Clock & { turn(milliseconds: number): void } {
  let now = 0;
  let plans: { at: number; work(): void }[] = [];
  return {
    after(milliseconds, work) {
      const plan = { at: now + milliseconds, work };
      plans.push(plan);
      return () => void (plans = plans.filter((other) => other !== plan));
    },
    turn(milliseconds) {
      const end = now + milliseconds;
      for (;;) {
        const next = plans.filter(({ at }) => at <= end).sort((a, b) => a.at - b.at)[0];
        if (!next) break;
        plans = plans.filter((plan) => plan !== next);
        now = next.at;
        next.work();
      }
      now = end;
    },
  };
}

interface Question {
  order: PictureOrder;
  made(picture: Picture): void;
  failed(problem: Problem): void;
}

function setUp() {
  const clock = handClock();
  const questions: Question[] = [];
  const prefetched: FrameOrder[][] = [];
  const scheduler = createPictureScheduler(clock, {
    picture: (order, made, failed) => void questions.push({ order, made, failed }),
    prefetch: (orders) => void prefetched.push(orders),
  });
  const last = () => questions.at(-1)!;
  /** Answers the newest question, as an engine that takes so long for the whole frame. */
  const answer = (wholeTakes = 40) => {
    const { order, made } = last();
    const [width, height] = [WIDTH / order.divide, HEIGHT / order.divide];
    const [top, end] = order.rows ?? [0, height];
    const milliseconds = wholeTakes / order.divide ** 2;
    made({
      width,
      height,
      top,
      rows: end - top,
      divide: order.divide,
      pixels: new Uint8ClampedArray(4),
      milliseconds,
    });
  };
  const asked = () => questions.map(({ order }) => order.divide);
  return { clock, scheduler, questions, prefetched, last, answer, asked };
}

const [WIDTH, HEIGHT] = [1920, 1080];
const LOOK = lookOf([{ kind: "grain" }]);
const wanted = (change: Partial<Wanted> = {}): Wanted => ({
  look: LOOK,
  shotId: "s",
  encoding: "e",
  plates: "",
  frame: 5,
  shot: { first: 1, last: 9 },
  frameRate: 24,
  output: { kind: "display" },
  width: WIDTH,
  height: HEIGHT,
  frames: [[1, 9]],
  ...change,
});
const changed = (strength: number) => wanted({ look: lookOf([{ kind: "grain", strength }]) });

describe("a control that moves", () => {
  test("is followed by the proxy, and the whole frame comes when it rests", () => {
    const { clock, scheduler, asked, answer } = setUp();
    scheduler.want(wanted());
    expect(asked()).toEqual([2]);
    answer();
    expect(scheduler.shown()).toMatchObject({ isEnough: false });
    clock.turn(150);
    scheduler.want(changed(0.5));
    clock.turn(150);
    scheduler.want(changed(0.6));
    expect(asked()).toEqual([2, 2, 2]);
    clock.turn(250);
    expect(asked()).toEqual([2, 2, 2, 1]);
    answer();
    expect(scheduler.shown()).toMatchObject({ isEnough: true });
  });

  test("is followed by a smaller proxy where the engine is slow, then by a finer one, then by the whole", () => {
    const { clock, scheduler, asked, answer } = setUp();
    scheduler.want(wanted());
    answer(400);
    scheduler.want(changed(0.5));
    expect(asked()).toEqual([2, 4]);
    clock.turn(100);
    expect(asked()).toEqual([2, 4, 2]);
    clock.turn(200);
    expect(asked()).toEqual([2, 4, 2, 1]);
  });

  test("that moves on takes back what was planned for it", () => {
    const { clock, scheduler, asked } = setUp();
    scheduler.want(wanted());
    scheduler.want(changed(0.4));
    clock.turn(150);
    scheduler.want(changed(0.5));
    clock.turn(190);
    expect(asked()).not.toContain(1);
    clock.turn(20);
    expect(asked().at(-1)).toBe(1);
  });

  test("of a small frame is followed by the whole frame at once", () => {
    const { scheduler, asked } = setUp();
    scheduler.want({ ...wanted(), width: 640, height: 360 });
    expect(asked()).toEqual([1]);
  });
});

describe("another frame", () => {
  test("is wanted as the screen needs it as soon as there is something of it, and its neighbours are fetched the way the step went", () => {
    const { clock, scheduler, asked, answer, prefetched } = setUp();
    scheduler.want(wanted());
    answer();
    clock.turn(300);
    answer();
    scheduler.want(wanted({ frame: 4 }));
    expect(asked()).toEqual([2, 1, 2]);
    // Both sizes are read at once.
    expect(prefetched.at(-1)!.map(({ frame, divide }) => [frame, divide])).toEqual([[4, 1]]);
    answer();
    expect(asked()).toEqual([2, 1, 2, 1]);
    answer();
    clock.turn(0);
    expect(prefetched.at(-1)!.map(({ frame }) => frame)).toEqual([3, 2, 5]);
  });

  test("that is still being computed is asked for again; what failed otherwise is not", () => {
    const { clock, scheduler, asked, last, answer } = setUp();
    scheduler.want(wanted());
    answer();
    scheduler.want(wanted({ frame: 6 }));
    last().failed({ code: "still-computing", message: "Frame 6 is still being computed" });
    expect(scheduler.shown().problem).toBe("Frame 6 is still being computed");
    clock.turn(2000);
    expect(asked()).toEqual([2, 2, 2]);
    last().failed({ code: "refused", message: "Frame 6 is not there" });
    clock.turn(5000);
    expect(asked()).toHaveLength(3);
  });

  test("takes what was to be fetched ahead for the one before out of the way", () => {
    const { clock, scheduler, answer, prefetched } = setUp();
    scheduler.want(wanted({ enough: 2 }));
    answer();
    clock.turn(700);
    expect(prefetched.at(-1)).toHaveLength(3);
    scheduler.want(wanted({ enough: 2, frame: 6 }));
    expect(prefetched.at(-1)!.map(({ frame }) => frame)).toEqual([6]);
  });
});

describe("the size the screen shows", () => {
  test("is the smallest halving that has a pixel for each of the screen's", () => {
    expect(enoughFor(900, 3840)).toBe(4);
    expect(enoughFor(960, 3840)).toBe(4);
    expect(enoughFor(961, 3840)).toBe(2);
    expect(enoughFor(900, 1280)).toBe(1);
    expect(enoughFor(10, 3840)).toBe(8);
    expect(enoughFor(5000, 3840)).toBe(1);
  });

  test("is all that is made of a large frame; the whole comes where the zoom asks for it, at once", () => {
    const { clock, scheduler, asked, answer, last } = setUp();
    const large = { width: 3840, height: 2160 };
    scheduler.want(wanted({ ...large, enough: 4 }));
    expect(asked()).toEqual([4]);
    answer();
    expect(scheduler.shown().isEnough).toBe(true);
    clock.turn(60_000);
    expect(asked()).toEqual([4]);
    scheduler.want(wanted({ ...large, enough: 1, rows: [0, 512] }));
    expect(asked()).toEqual([4, 1]);
    expect(last().order.rows).toEqual([0, 512]);
    answer();
    // The smaller one is seen where the whole does not reach.
    expect(scheduler.shown()).toMatchObject({ isEnough: true, under: { divide: 4 } });
  });

  test("is followed by the whole of a frame that is not large, when it has rested", () => {
    const { clock, scheduler, asked, answer } = setUp();
    scheduler.want(wanted({ enough: 2 }));
    answer();
    expect(scheduler.shown().isEnough).toBe(true);
    clock.turn(1000);
    expect(asked()).toEqual([2]);
    clock.turn(500);
    expect(asked()).toEqual([2, 1]);
  });

  test("asks for nothing where what is shown is larger already", () => {
    const { scheduler, asked, answer, clock } = setUp();
    scheduler.want(wanted());
    answer();
    clock.turn(300);
    answer();
    scheduler.want(wanted({ enough: 2 }));
    expect(asked()).toEqual([2, 1]);
    expect(scheduler.shown().isEnough).toBe(true);
  });
});

test("what is answered late, when something else is wanted that is shown already, is not shown", () => {
  const { scheduler, answer } = setUp();
  const small = { width: 640, height: 360 };
  scheduler.want(wanted(small));
  answer();
  const before = scheduler.shown();
  scheduler.want({ ...changed(0.5), ...small });
  scheduler.want(wanted(small));
  answer();
  expect(scheduler.shown()).toEqual(before);
});

test("those who hear are told of every picture, and nothing is planned any more once it is closed", () => {
  const { clock, scheduler, asked, answer } = setUp();
  let told = 0;
  const leave = scheduler.subscribe(() => told++);
  scheduler.want(wanted());
  answer();
  expect(told).toBe(1);
  leave();
  scheduler.close();
  clock.turn(1000);
  expect(told).toBe(1);
  expect(asked()).toEqual([2]);
});
