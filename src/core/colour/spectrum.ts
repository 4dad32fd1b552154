import { apply, invert, multiply, type Matrix3, type Triple } from "../maths/matrix";
import { AP1, toXyz } from "./primaries";

/** Wavelengths at which spectra are sampled, nm. */
export const WAVELENGTHS = Array.from({ length: 81 }, (_, i) => 380 + 5 * i);

const lobe = (x: number, centre: number, below: number, above: number) =>
  Math.exp(-0.5 * ((x - centre) * (x < centre ? below : above)) ** 2);

/** CIE 1931 2-degree colour matching functions: the multi-lobe fit of Wyman, Sloan and Shirley, JCGT 2(2), 2013. */
export function matching(nm: number): [number, number, number] {
  return [
    1.056 * lobe(nm, 599.8, 0.0264, 0.0323) +
      0.362 * lobe(nm, 442.0, 0.0624, 0.0374) -
      0.065 * lobe(nm, 501.1, 0.049, 0.0382),
    0.821 * lobe(nm, 568.8, 0.0213, 0.0247) + 0.286 * lobe(nm, 530.9, 0.0613, 0.0322),
    1.217 * lobe(nm, 437.0, 0.0845, 0.0278) + 0.681 * lobe(nm, 459.0, 0.0385, 0.0725),
  ];
}

/**
 * CIE daylight of 6000 K in relative power, close to the ACES white: Planck's law is near enough for a smooth weight.
 */
function illuminant(nm: number): number {
  const c2 = 1.4388e7; // nm K
  return ((560 / nm) ** 5 * (Math.exp(c2 / (560 * 6000)) - 1)) / (Math.exp(c2 / (nm * 6000)) - 1);
}

/**
 * Smooth spectra for the three channels of working light: R(nm) = r B_r + g B_g + b B_b. Each is a broad bell; together
 * they are corrected so that through the matching functions they give back exactly the channels they stand for.
 */
const BELLS = [
  { centre: 625, below: 1 / 38, above: 1 / 90 },
  { centre: 540, below: 1 / 36, above: 1 / 36 },
  { centre: 450, below: 1 / 70, above: 1 / 34 },
] as const;

/** Matrix from bell amounts to working light, light filtered by `transmission` (of nm, 0 to 1) on the way. */
function bellsToWorking(transmission: (nm: number) => number): Matrix3 {
  const xyz = [0, 0, 0, 0, 0, 0, 0, 0, 0];
  for (const nm of WAVELENGTHS) {
    const weight = illuminant(nm) * transmission(nm);
    const eye = matching(nm);
    BELLS.forEach(({ centre, below, above }, channel) => {
      const light = weight * lobe(nm, centre, below, above);
      for (let i = 0; i < 3; i++) xyz[i * 3 + channel]! += light * eye[i]!;
    });
  }
  return multiply(invert(toXyz(AP1)), xyz as unknown as Matrix3);
}

const bare = bellsToWorking(() => 1);

/** The smooth spectrum that stands for a colour in working light, and the light an observer sees of any spectrum. */
export function spectrumOfLight(light: Triple): (nm: number) => number {
  const amounts = apply(invert(bare), light);
  return (nm) =>
    illuminant(nm) *
    BELLS.reduce(
      (sum, { centre, below, above }, channel) => sum + amounts[channel]! * lobe(nm, centre, below, above),
      0,
    );
}

export function lightOfSpectrum(spectrum: (nm: number) => number): [number, number, number] {
  const xyz: [number, number, number] = [0, 0, 0];
  for (const nm of WAVELENGTHS) matching(nm).forEach((value, i) => (xyz[i]! += spectrum(nm) * value));
  return apply(invert(toXyz(AP1)), xyz);
}

/** What a spectral transmission does to working light, as a 3x3 matrix. */
export function transmissionMatrix(transmission: (nm: number) => number): Matrix3 {
  return multiply(bellsToWorking(transmission), invert(bare));
}
