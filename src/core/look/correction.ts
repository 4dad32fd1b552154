/** ASC CDL corrections in a look: brought into a trim, and taken out of its trims. */
import type { Correction } from "../colour/correction";
import { decisionList } from "../elements/trim/decision-list";
import type { Trim } from "../elements/trim/parameters";
import { addElement, setAll } from "./edit";
import type { LookAtFrame } from "./at-frame";
import type { Look } from "./look";

/** The encoding a correction was made in, unless another is said. */
export const CORRECTION_SPACE = "acescct";

/** A trim that does what a correction says, and nothing else, in the encoding the correction was made in. */
export function withCorrection(
  look: Look,
  id: string,
  { slope, offset, power, saturation }: Correction,
  frame: number,
  space = CORRECTION_SPACE,
): Look {
  const list = { space, slope, offset, power, saturation };
  const values = { strength: 1, exposure: 0, temperature: 0, tint: 0, ...list };
  return setAll(
    look,
    Object.entries(values).map(([parameter, value]) => [[id, parameter], value] as const),
    frame,
  );
}

/** A look with a trim for a correction behind its other elements. */
export function addCorrection(look: Look, correction: Correction, space = CORRECTION_SPACE): Look {
  const { look: longer, id } = addElement(look, "trim");
  return withCorrection(longer, id, correction, 0, space);
}

export interface TrimCorrection {
  element: string;
  correction: Correction;
  /** The encoding it acts in. */
  space: string;
  /** What of the trim a correction cannot say. */
  leftOut: string[];
}

/** A trim's values at a strength as a correction. */
export function correctionOf(name: string, values: Trim, strength: number): Omit<TrimCorrection, "element"> {
  const { list, leftOut } = decisionList(values, strength);
  const { slope, offset, power, saturation } = list;
  const triple = (of: readonly number[]) => [...of] as Correction["slope"];
  const correction = { id: name, slope: triple(slope), offset: triple(offset), power: triple(power), saturation };
  return { correction, space: values.space, leftOut };
}

/** What each trim of a look does at a frame, as corrections named after the look. */
export const correctionsIn = (look: Look, { elements }: LookAtFrame): TrimCorrection[] =>
  elements
    .filter(({ kind, isActive }) => kind === "trim" && isActive)
    .map(({ id, state }, i, all) => ({
      element: id,
      ...correctionOf(
        all.length > 1 ? `${look.name} ${i + 1}` : look.name,
        state.values as unknown as Trim,
        state.strength,
      ),
    }));
