import { lightAt, stopsOf } from "../../colour/grey";
import { whiteFor } from "../../colour/daylight";
import { type EncodingName, encodingByName } from "../../colour/encodings";
import { define, type Trace } from "../definition";
import { type Trim, parameters } from "./parameters";
import { gainsOf, listOf, corrected } from "./decision-list";
import { balanced, hues } from "./colours";

/**
 * Exposure and white, then ASC CDL v1.2 (slope, offset, power, saturation) in a working space, without its clamps, then
 * balance, vibrance and single hues.
 */
export const trim = define<Trim>({
  kind: "trim",
  label: "Trim",
  station: "print",
  isTonal: true,
  drawing: { outline: "M11 8 H29 V56 H11 Z", detail: "M15 46L25 18" },
  exchanges: "cdl",
  summary:
    "Exposure, white, the colour decision list (slope, offset, power, saturation), balance, vibrance and single hues.",
  advice: "Use it to bring back what the scatter took, not to grade.",
  strengthLaw: "Takes every number that many times as far from doing nothing.",
  source: "ASC Color Decision List 1.2 (slope, offset, power, saturation); white along CIE daylight (CIE 15:2018).",
  passes: "tints",
  parameters,
  picks: {
    label: "Pick what is to be white",
    take: (light) => {
      const { mired, tint } = whiteFor([...light]);
      return { temperature: mired, tint };
    },
  },
  work: {
    kind: "point",
    program: ({ strength, values }) => [
      ...corrected(values, strength),
      ...balanced(values, strength),
      ...hues(values, strength),
    ],
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 57 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace[] => {
      const [list, gains] = [listOf(values, s), gainsOf(values, s)];
      const { toCode, toLight } = encodingByName(values.space as EncodingName).transfer;
      const out = (light: number, c: number) =>
        toLight(Math.max(toCode(light * gains[c]!) * list.slope[c]! + list.offset[c]!, 0) ** list.power[c]!);
      return (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`,
        colour,
        kind,
        x: stops,
        y: stops.map((t) => stopsOf(Math.max(out(lightAt(t), c), 1e-6))),
      }));
    };
    return {
      title: "Light in, light out",
      x: { label: "Light in", unit: "stops from mid-grey" },
      y: { label: "Light out", unit: "stops from mid-grey" },
      traces: [...trace("measured", 1), ...trace("applied", strength * mix)],
    };
  },
});
