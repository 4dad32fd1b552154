import { expect, test } from "vitest";
import { numbers } from "../../testing/laboratory";
import type { Chart } from "./chart";
import type { Plane } from "./plane";
import { type EdgesReading, filterOf, lensOf, type Reading, readingOf, relabelled, withoutEdges } from "./readings";

const [WIDTH, HEIGHT] = [420, 260];
/** Two turned squares of ink, their edges soft as a logistic function. */
function chart(): Chart {
  const next = numbers(5);
  const side = (t: number) => 1 / (1 + Math.exp(-t / 0.6));
  const data = Float64Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    const ink = [
      [120, 130],
      [300, 130],
    ].reduce((sum, [cx, cy]) => {
      const [u, v] = [(x - cx!) * 0.985 + (y - cy!) * 0.174, (y - cy!) * 0.985 - (x - cx!) * 0.174];
      return sum + (side(u + 40) - side(u - 40)) * (side(v + 40) - side(v - 40));
    }, 0);
    return 0.7 - 0.6 * ink + 0.004 * (next() - 0.5);
  });
  const plane: Plane = { width: WIDTH, height: HEIGHT, data };
  return {
    channels: { red: plane, green: plane, blue: plane },
    pitch: 0.01,
    left: 0,
    top: 0,
    axisX: (WIDTH - 1) / 2,
    axisY: (HEIGHT - 1) / 2,
  };
}
const read = (stop: number) => readingOf({ kind: "edges", focalLength: 50, stop }, [chart()]) as EdgesReading;
const HEAD = { id: "own", name: "Own", squeeze: 1 };

test("an edge that is taken out is no part of the table any more, nor of the count", () => {
  const reading = read(2);
  expect(reading.edges).toHaveLength(8);
  const { x, y } = reading.edges[3]!;
  const rest = withoutEdges(reading, [[x, y]]);
  expect(rest.edges).toHaveLength(7);
  expect(rest.edges.some((edge) => edge.x === x && edge.y === y)).toBe(false);
  expect(() =>
    withoutEdges(
      reading,
      reading.edges.map((edge) => [edge.x, edge.y] as const),
    ),
  ).toThrow(/No slanted edge/);
});

test("another stop is another name for what was read; a grid's or a pair's focal length is not", () => {
  const named = relabelled(read(2), { kind: "edges", focalLength: 35, stop: 4 }) as EdgesReading;
  expect(named.table).toMatchObject({ focalLength: 35, stop: 4 });
  const grid = { kind: "grid", focalLength: 50 } as Reading;
  expect(relabelled(grid, { kind: "grid", focalLength: 35 })).toBeNull();
  expect(relabelled(read(2), { kind: "flat", focalLength: 50, stop: 2 })).toBeNull();
});

test("readings come to one lens; what says the same twice, and what is of another kind, is refused", () => {
  const [two, four] = [read(2), relabelled(read(2), { kind: "edges", focalLength: 50, stop: 4 })!];
  expect(lensOf(HEAD, [four, two])).toMatchObject({
    focalLengths: [50],
    stops: [2, 4],
    mtf: [{ stop: 2 }, { stop: 4 }],
  });
  expect(() => lensOf(HEAD, [two, two])).toThrow(/two frames measure contrast at 50 mm at T2/);
  expect(() => lensOf(HEAD, [])).toThrow(/nothing has been measured/);
  expect(() => filterOf(HEAD, [two])).toThrow(/by pairs of frames alone/);
});
