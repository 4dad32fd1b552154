import type { CheckName, Values } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import { lookAt } from "../look/at-frame";
import { elementNamed } from "../look/edit";
import type { Look, LookElement } from "../look/look";
import type { Cabinet } from "../profile/profiles";
import { checkContrast } from "./contrast";
import { checkIllumination, checkTransmission, checkVeil } from "./field";
import { checkDistortion, checkLateralColour } from "./geometry";
import type { Check, Quantity } from "./quantity";
import { TAKING_BARS, takingFor } from "./taking";
import { checkScatter, checkStreak } from "./spread";
import type { Frame } from "../image/image";

/** What can be held against a profile, by what an element's definition names. */
const CHECKS: Record<CheckName, Check> = {
  scatter: checkScatter,
  veil: checkVeil,
  streak: checkStreak,
  distortion: checkDistortion,
  lateralColour: checkLateralColour,
  contrast: checkContrast,
  illumination: checkIllumination,
  transmission: checkTransmission,
};

export interface Verification {
  quantities: Quantity[];
  /** Elements that were not measured, and why. */
  leftOut: { kind: string; why: string }[];
}

const withBar = (quantity: Quantity): Quantity => ({
  ...quantity,
  bar: Math.max(quantity.bar, TAKING_BARS[quantity.kind] ?? 0),
});

/**
 * Sends computed charts through each of a look's elements, alone and over the whole frame at its strength, and measures
 * what comes out against the profile. `through` runs a look over a chart and gives working light. Where the look takes a
 * lens off, each chart is shot through that lens's own piece first.
 */
export function verify(
  look: Look,
  cabinet: Cabinet,
  size: { width: number; height: number },
  through: (look: Look, chart: Frame) => Frame,
): Verification {
  const out: Verification = { quantities: [], leftOut: [] };
  const at = { ...size, frame: 1 };
  for (const { id, isActive, missing } of lookAt(look, cabinet, at).elements) {
    const element = elementNamed(look, id);
    if (!isActive && !missing) continue;
    const { check } = definitionOf(element.kind);
    const alone: LookElement = {
      id: element.id,
      kind: element.kind,
      on: true,
      strength: element.strength,
      mix: 1,
      params: { ...element.params, ...check?.without } as Values,
    };
    const off = takingFor(look, cabinet, element.kind);
    const shot = (chart: Frame) => (off?.shot ? through(off.shot, chart) : chart);
    const camera = off ? { ...look.camera, taking: off.taking } : look.camera;
    const chartLook = { ...look, camera, where: undefined, elements: [alone] as Look["elements"] };
    const { context, elements } = lookAt(chartLook, cabinet, at);
    const why = check ? missing : "No profile states what it must come to; its own tests do.";
    if (why) out.leftOut.push({ kind: element.kind, why });
    else
      out.quantities.push(
        ...CHECKS[check!.name]({
          state: elements[0]!.state,
          context,
          through: (chart) => through(chartLook, shot(chart)),
        }).map((quantity) => (off?.shot ? withBar(quantity) : quantity)),
      );
  }
  return out;
}
