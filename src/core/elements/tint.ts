import type { Parameter } from "./definition";

/** Factors that tint a part of the tones and keep their luminance, shared by what balances tones. */
export const tintParameter = (group: string, label: string, which: string) =>
  ({
    type: "triple",
    group,
    label: `${label} R, G, B`,
    unit: "",
    min: 0.5,
    max: 2,
    step: 0.005,
    default: [1, 1, 1],
    tints: true,
    help: `Tints what is ${which} mid-grey; luminance is kept.`,
  }) as const satisfies Parameter;
