import { spectrumOfLight, WAVELENGTHS } from "../../colour/spectrum";
import { matrixOperation, type PointOperation, balanceOperation } from "../../engine/pointwise";
import type { Matrix3, Triple } from "../../maths/matrix";
import { tintParameter } from "../tint";
import { define, type Parameter, type Trace, type ValuesOf } from "../definition";

type Monochrome = ValuesOf<typeof parameters>;

/** A soft edge of a spectral response at a wavelength (nm), over so many nm. */
const edge = (nm: number, at: number, over: number) => 1 / (1 + Math.exp((nm - at) / over));
const bell = (nm: number, at: number, width: number) => Math.exp(-0.5 * ((nm - at) / width) ** 2);

/** What silver sees, by the dyes it was made with: made-up curves of the shape that textbooks give each kind. */
const RESPONSES = {
  panchromatic: (nm: number) => edge(nm, 655, 8) * (0.75 + 0.25 * bell(nm, 430, 50)),
  orthochromatic: (nm: number) => edge(nm, 585, 9) * (0.7 + 0.3 * bell(nm, 550, 30)),
  redBlind: (nm: number) => edge(nm, 510, 10),
} as const;

/** Filters in front, by their transmission. */
const FILTERS = {
  none: () => 1,
  yellow: (nm: number) => 0.02 + 0.98 * (1 - edge(nm, 490, 8)),
  orange: (nm: number) => 0.01 + 0.99 * (1 - edge(nm, 545, 9)),
  red: (nm: number) => 0.005 + 0.995 * (1 - edge(nm, 600, 9)),
  green: (nm: number) => 0.05 + 0.95 * bell(nm, 535, 38),
} as const;

const parameters = {
  response: {
    type: "choice",
    label: "Film",
    options: { panchromatic: "Panchromatic", orthochromatic: "Orthochromatic", redBlind: "Blind to red and green" },
    default: "panchromatic",
    help: "Which wavelengths the film sees.",
  },
  filter: {
    type: "choice",
    label: "Filter in front",
    options: { none: "None", yellow: "Yellow", orange: "Orange", red: "Red", green: "Green" },
    default: "none",
    help: "A colour in front of the lens: yellow and red darken the sky, green lightens leaves.",
  },
  shadows: tintParameter("Toning", "Shadows", "well below"),
  highlights: tintParameter("Toning", "Highlights", "well above"),
} as const satisfies Record<string, Parameter>;

const UNIT: readonly Triple[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/**
 * How much each channel of working light counts, 1 together, so that grey stays as it is. `power`: of the response and
 * filter.
 */
function weightsOf({ response, filter }: Monochrome, power: number): Triple {
  const seen = (nm: number) => (RESPONSES[response](nm) * FILTERS[filter](nm)) ** power;
  const raw = UNIT.map((light) => {
    const spectrum = spectrumOfLight(light);
    return Math.max(
      0,
      WAVELENGTHS.reduce((sum, nm) => sum + spectrum(nm) * seen(nm), 0),
    );
  });
  const sum = raw.reduce((a, b) => a + b, 0);
  return raw.map((value) => value / sum) as unknown as Triple;
}

/** Up to 1 strength takes colour away; beyond it, it deepens what film and filter do. */
function matrixAt(values: Monochrome, strength: number): Matrix3 {
  const weights = weightsOf(values, Math.max(1, strength));
  const share = Math.min(1, strength);
  return [0, 1, 2].flatMap((row) =>
    [0, 1, 2].map((column) => (1 - share) * (row === column ? 1 : 0) + share * weights[column]!),
  ) as unknown as Matrix3;
}

function toning({ shadows, highlights }: Monochrome, strength: number): PointOperation[] {
  const tints = [shadows, [1, 1, 1], highlights].map((tint) => tint.map((value) => value ** strength));
  if (tints.flat().every((value) => value === 1)) return [];
  return [balanceOperation(tints, 0)];
}

/** Black and white by a spectral response, with toning. */
export const monochrome = define<Monochrome>({
  kind: "monochrome",
  label: "Monochrome",
  station: "film",
  isTonal: true,
  drawing: { outline: "M14 2 H26 V62 H14 Z", detail: "M14 22H26M14 42H26M17 5V19M20 5V19M23 5V19" },
  summary: "Black and white, by what the film sees of the spectrum and the filter in front of it; toned.",
  advice: "Judge skin against sky and leaves. Overdone, lips go black and skies go to night.",
  strengthLaw: "Up to 1 the share of colour that is taken away; above it deepens film and filter.",
  source: "Spectral response integrated over a rebuilt spectrum; filters in front multiply it.",
  passes: "tints",
  parameters,
  work: {
    kind: "point",
    program: ({ strength, values }) => [matrixOperation(matrixAt(values, strength)), ...toning(values, strength)],
  },
  response({ strength, mix, values }) {
    const trace = (kind: Trace["kind"], s: number): Trace => {
      const seen = (nm: number) => (RESPONSES[values.response](nm) * FILTERS[values.filter](nm)) ** Math.max(1, s);
      return {
        name: kind,
        colour: "grey",
        kind,
        x: WAVELENGTHS,
        y: WAVELENGTHS.map((nm) => 100 * (1 - Math.min(1, s) + Math.min(1, s) * seen(nm))),
      };
    };
    return {
      title: "What is seen of the spectrum",
      x: { label: "Wavelength", unit: "nm" },
      y: { label: "Response", unit: "%" },
      traces: [trace("measured", 1), trace("applied", strength * mix)],
    };
  },
});
