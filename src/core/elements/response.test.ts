import { describe, expect, test } from "vitest";
import { demoProfiles } from "../../demo/glass/profiles";
import { at, flat, lookOf, painted, type Setup, through } from "../../testing/laboratory";
import { lookAt } from "../look/at-frame";
import { cabinetOf } from "../profile/profiles";
import { MID_GREY } from "../colour/grey";
import { looking } from "../../testing/showing";
import { definitionOf, ELEMENTS } from "./registry";

/** What the panel plots of an element is what it does to pixels: at a strength, in stops. */
const cabinet = cabinetOf(demoProfiles());
const SENSOR = { width: 24, height: 13.5 };
const [WIDTH, HEIGHT] = [320, 180];
/** Stops; what a float and a table's steps leave. */
const NEAR = 0.02;

/** The applied curve of an element's plot, for a channel or all of them. */
function plotted(setup: Setup, colour: "red" | "green" | "blue" | "grey") {
  const look = lookOf([setup], {}, SENSOR);
  const { context, elements } = lookAt(look, cabinet, { width: WIDTH, height: HEIGHT, frame: 1 });
  const { traces } = definitionOf(setup.kind).response(elements[0]!.state, context);
  const own = traces.filter(({ kind }) => kind === "applied");
  const { x, y } = own.find((trace) => trace.colour === colour) ?? own[0]!;
  return { look, points: x.map((value, i) => [value, y[i]!] as const) };
}

describe.each([0.5, 1, 1.7])("at strength %f", (strength) => {
  const tones: Setup[] = [
    { kind: "curves", strength, params: { shadows: 0.5, lights: -0.3, lightsRGB: [0.2, 0, -0.2] } },
    { kind: "tone", strength },
  ];
  test.each(tones)("$kind: light in, light out", (setup) => {
    for (const [channel, colour] of (["red", "green", "blue"] as const).entries()) {
      const { look, points } = plotted(setup, colour);
      const inner = points.filter(([stops]) => stops >= -6 && stops <= 4);
      const ramp = painted(inner.length, 1, (x) => Array(3).fill(MID_GREY * 2 ** inner[x]![0]) as never);
      const out = through(look, ramp);
      for (const [x, [, stops]] of inner.entries())
        expect(Math.log2(at(out, x, 0, channel) / MID_GREY)).toBeCloseTo(stops, 1);
    }
  });
  test("illumination: exposure by image height", () => {
    const { look, points } = plotted({ kind: "illumination", strength }, "grey");
    const out = through(look, flat(WIDTH, HEIGHT, 0.25));
    const pitch = SENSOR.width / WIDTH;
    for (const [height, stops] of points) {
      // Along the middle row, to the right of the axis.
      const x = Math.round((WIDTH - 1) / 2 + height / pitch);
      if (x >= WIDTH) continue;
      const own = Math.log2(at(out, x, HEIGHT >> 1) / 0.25);
      expect(Math.abs(own - stops)).toBeLessThan(NEAR + 0.05 * Math.abs(stops));
    }
  });
});

test("what is dragged on a plot is where its values say, and a drag to where it is changes nothing", () => {
  const gripped = ELEMENTS.flatMap((definition) => {
    const look = looking(definition.kind);
    const { context, elements } = lookAt(look, cabinet, { width: 1920, height: 1080, frame: 1 });
    const { state } = elements[0]!;
    return (definition.response(state, context).grips ?? []).map((grip) => ({ definition, state, grip }));
  });
  expect(new Set(gripped.map(({ definition }) => definition.kind))).toEqual(new Set(["vignette", "sharpness", "tone"]));
  for (const { definition, state, grip } of gripped)
    for (const [name, value] of Object.entries(grip.set(grip.x, grip.y))) {
      expect(Object.keys(definition.parameters)).toContain(name);
      expect(value, `${definition.kind}: ${grip.label}`).toBeCloseTo(state.values[name] as number, 4);
    }
});
