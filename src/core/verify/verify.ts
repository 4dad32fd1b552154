import { lookAt } from "../look/at-frame";
import { elementNamed } from "../look/edit";
import type { Look, LookElement } from "../look/look";
import type { Cabinet } from "../profile/profiles";
import { checkContrast } from "./contrast";
import { checkIllumination, checkTransmission, checkVeil } from "./field";
import { checkDistortion, checkLateralColour } from "./geometry";
import type { Check, Quantity } from "./quantity";
import { checkScatter, checkStreak } from "./spread";
import type { Frame } from "../image/image";

/** What can be held against a profile, by the element that puts it there. */
const CHECKS: Record<string, Check | undefined> = {
  diffusion: checkScatter,
  fog: checkScatter,
  net: checkScatter,
  veil: checkVeil,
  streak: checkStreak,
  distortion: checkDistortion,
  lateralColour: checkLateralColour,
  sharpness: checkContrast,
  illumination: checkIllumination,
  transmission: checkTransmission,
};

/** What a profile says nothing of is left out of the chart: a net's cross lies over its scatter, a streak's mirror image over the streak. */
const WITHOUT: Record<string, Record<string, number | string>> = { net: { cross: 0 }, streak: { surround: "black" } };

export interface Verification {
  quantities: Quantity[];
  /** Elements that were not measured, and why. */
  leftOut: { kind: string; why: string }[];
}

/**
 * Sends computed charts through each of a look's elements, alone and over the whole frame at its strength, and measures what
 * comes out against the profile. `through` runs a look over a chart and gives working light.
 */
export function verify(
  look: Look,
  cabinet: Cabinet,
  size: { width: number; height: number },
  through: (look: Look, chart: Frame) => Frame,
): Verification {
  const out: Verification = { quantities: [], leftOut: [] };
  const at = { ...size, frame: 1 };
  for (const { id, acts, lacks } of lookAt(look, cabinet, at).elements) {
    const element = elementNamed(look, id);
    if (!acts && !lacks) continue;
    const alone: LookElement = {
      id: element.id,
      kind: element.kind,
      on: true,
      strength: element.strength,
      mix: 1,
      params: { ...element.params, ...WITHOUT[element.kind] },
    };
    const chartLook = { ...look, where: undefined, elements: [alone] as Look["elements"] };
    const { context, elements } = lookAt(chartLook, cabinet, at);
    const check = CHECKS[element.kind];
    const why = check ? lacks : "No profile states what it must come to; its own tests do.";
    if (why) out.leftOut.push({ kind: element.kind, why });
    else
      out.quantities.push(
        ...check!({ state: elements[0]!.state, context, through: (chart) => through(chartLook, chart) }),
      );
  }
  return out;
}
