import { expect, test } from "vitest";
import { startEngine } from "../../server/engine/engine";
import { planBlur } from "../engine/operations";
import { PlanBuilder } from "../engine/plan";
import { blurVariance, tapsOf } from "./bank";

const noise = (length: number) => {
  let state = 5;
  return Float32Array.from({ length }, () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32);
};

test.each([
  [33, 47, 1],
  [250, 131, 3],
  [32, 3, 1],
  [64, 1, 2],
])("two blurs in one going are the two one after the other, at %i x %i on %i threads", (width, height, threads) => {
  const { engine, close } = startEngine(threads);
  const source = noise(width * height * 4);
  const taps = [0, 1].map((index) => tapsOf(blurVariance(index)));
  const made = (key: string, plan: (builder: PlanBuilder) => [number, number], which: 0 | 1) => {
    const builder = new PlanBuilder(width, height, key);
    builder.step("blurred", plan(builder)[which]);
    return new Float32Array(engine.run(builder.finish(), () => source).slice().buffer);
  };
  const apart = (builder: PlanBuilder): [number, number] => {
    const blur = (from: number, own: number[]) => {
      return planBlur(builder, from, { x: own, y: own });
    };
    const first = blur(0, taps[0]!);
    return [first, blur(first, taps[1]!)];
  };
  const together = (builder: PlanBuilder): [number, number] => {
    const [first, second] = [builder.level(0), builder.level(0)];
    const table = builder.floats(taps.flatMap((own) => [...own.slice(0, 3), ...own.slice(0, 3)]));
    builder.add("blurTwice", { source: 0, first, out: second, width, height, taps: table });
    return [first, second];
  };
  const second = made("a", together, 1);
  expect(second).toEqual(made("b", apart, 1));
  expect(second).not.toEqual(source);
  expect(made("c", together, 0)).toEqual(made("d", apart, 0));
  close();
});
