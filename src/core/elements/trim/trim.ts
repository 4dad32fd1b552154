import { LUMINANCE } from "../../colour/primaries";
import { define, type Trace } from "../definition";

type Triple = readonly [number, number, number];

interface Trim {
  exposure: number;
  slope: Triple;
  offset: Triple;
  power: Triple;
  saturation: number;
}

/** At strength s every number is taken s times as far from the one that does nothing. */
function scaled({ exposure, slope, offset, power, saturation }: Trim, s: number) {
  return {
    slope: slope.map((value) => value ** s * 2 ** (exposure * s)),
    offset: offset.map((value) => value * s),
    power: power.map((value) => value ** s),
    saturation: Math.max(0, 1 + (saturation - 1) * s),
  };
}

/** Exposure, then ASC CDL v1.2 (slope, offset, power, saturation) in working light, without its clamps. */
export const trim = define<Trim>({
  kind: "trim",
  label: "Trim",
  station: "print",
  summary: "Exposure and the colour decision list: slope, offset, power and saturation.",
  advice: "Use it to bring back what the scatter took, not to grade.",
  strengthLaw: "Takes every number that many times as far from doing nothing.",
  parameters: {
    exposure: { type: "number", label: "Exposure", unit: "stops", min: -6, max: 6, step: 0.05, default: 0, help: "A factor of two a stop." },
    slope: { type: "triple", label: "Slope R, G, B", unit: "", min: 0.01, max: 4, step: 0.005, default: [1, 1, 1], help: "Multiplies each channel." },
    offset: { type: "triple", label: "Offset R, G, B", unit: "", min: -0.5, max: 0.5, step: 0.001, default: [0, 0, 0], help: "Adds to each channel, in working light." },
    power: { type: "triple", label: "Power R, G, B", unit: "", min: 0.1, max: 4, step: 0.005, default: [1, 1, 1], help: "Bends each channel about 1." },
    saturation: { type: "number", label: "Saturation", unit: "", min: 0, max: 3, step: 0.01, default: 1, help: "Distance of colours from grey of the same luminance." },
  },
  work: {
    kind: "point",
    program({ strength, values }) {
      const { slope, offset, power, saturation } = scaled(values, strength);
      const bends = power.some((value) => value !== 1);
      return [{ code: "cdl", floats: [...slope, 0, ...offset, 0, ...power, 1, ...LUMINANCE, 0, saturation, 0, 0, 0], integers: { 17: bends ? 1 : 0 } }];
    },
  },
  response({ strength, mix, values }) {
    const stops = Array.from({ length: 57 }, (_, i) => -8 + i * 0.25);
    const trace = (kind: Trace["kind"], s: number): Trace[] => {
      const { slope, offset, power } = scaled(values, s);
      return (["red", "green", "blue"] as const).map((colour, c) => ({
        name: `${colour}, ${kind}`, colour, kind, x: stops,
        y: stops.map((t) => Math.log2(Math.max(0.18 * 2 ** t * slope[c]! + offset[c]!, 1e-6) ** power[c]! / 0.18)),
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
