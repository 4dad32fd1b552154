import { LUMINANCE } from "../../colour/primaries";
import { transmissionMatrix, WAVELENGTHS } from "../../colour/spectrum";
import { matrixOperation } from "../../engine/pointwise";
import { monotoneCubic } from "../../maths/interpolate";
import { apply, type Matrix3 } from "../../maths/matrix";
import { define, type Trace, type Parameter, type ValuesOf } from "../definition";
import type { FrameContext } from "../../frame/context";

export type Transmission = ValuesOf<typeof parameters>;

/** Where the eye's middle is, nm: warm and cool tilt about it. */
const PIVOT = 550;
/** Half the visible range, nm. */
const SPAN = 150;
/** Width of the green-magenta dip, nm. */
const DIP = 45;

/**
 * T(λ) to the strength, with the tilt and the dip (both in stops at their fullest) on top; all of it scales with
 * strength.
 */
export function transmissionCurve(
  strength: number,
  { warmth, magenta }: Transmission,
  { lens }: FrameContext,
): (nm: number) => number {
  const table = lens?.transmission;
  const measured = table ? monotoneCubic(table.wavelengths, table.values) : () => 1;
  return (nm) => {
    const tilt = (warmth * (nm - PIVOT)) / SPAN / 2;
    const dip = -magenta * Math.exp(-0.5 * ((nm - PIVOT) / DIP) ** 2);
    return (Math.max(measured(nm), 1e-6) * 2 ** (tilt + dip)) ** strength;
  };
}

/** The matrix on working light; luminance of the working white kept where asked. */
export function transmissionAt(strength: number, values: Transmission, context: FrameContext): Matrix3 {
  const matrix = transmissionMatrix(transmissionCurve(strength, values, context));
  if (!values.keepExposure) return matrix;
  const white = apply(matrix, [1, 1, 1]);
  const luminance = white.reduce((sum, value, i) => sum + value * LUMINANCE[i]!, 0);
  return matrix.map((value) => value / luminance) as unknown as Matrix3;
}

const parameters = {
  warmth: {
    type: "number",
    label: "Warm to cool",
    unit: "stops",
    min: -2,
    max: 2,
    step: 0.02,
    default: 0,
    help: "Tilts the spectrum: more of the long wavelengths, or (negative) of the short.",
  },
  magenta: {
    type: "number",
    label: "Green to magenta",
    unit: "stops",
    min: -2,
    max: 2,
    step: 0.02,
    default: 0,
    help: "Takes from the middle of the spectrum, or (negative) adds to it.",
  },
  keepExposure: {
    type: "toggle",
    label: "Keep exposure",
    default: false,
    help: "Gives back the luminance that white loses.",
  },
} as const satisfies Record<string, Parameter>;

export const transmission = define<Transmission>({
  kind: "transmission",
  label: "Transmission",
  station: "lens",
  isTonal: true,
  drawing: { outline: "M12 6 C16 20 16 44 12 58 H24 C31 44 31 20 24 6 Z", detail: "M19 14C22 24 22 40 19 50" },
  check: { name: "transmission" },
  summary: "The colour of the glass: what it lets through at each wavelength.",
  advice: "Look at white and at skin. Overdone, it reads as a grade and not as glass.",
  strengthLaw: "Is the power the spectral transmission is raised to: twice is two such lenses.",
  source: "Bouguer’s law: twice the glass transmits T². Spectra are rebuilt as smoothly as three numbers allow.",
  passes: "tints",
  parameters,
  missing: ({ values }, { lens }) =>
    lens?.transmission || values.warmth || values.magenta ? null : "The lens profile has no spectral transmission.",
  work: {
    kind: "point",
    program: ({ strength, values }, context) => [matrixOperation(transmissionAt(strength, values, context))],
  },
  response({ strength, mix, values }, context) {
    const trace = (kind: Trace["kind"], s: number): Trace => ({
      name: kind,
      colour: "grey",
      kind,
      x: WAVELENGTHS,
      y: WAVELENGTHS.map((nm) => 100 * transmissionCurve(s, values, context)(nm)),
    });
    return {
      title: "Transmission",
      x: { label: "Wavelength", unit: "nm" },
      y: { label: "Transmission", unit: "%" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
