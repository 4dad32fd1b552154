import type { PlanBuilder } from "../../engine/plan";
import type { PointOperation } from "../../engine/pointwise";
import type { ElementAtFrame, LookAtFrame } from "../../look/at-frame";
import type { View } from "../../view/view";

/** What an output is made of: the look at the frame, its view, and a program that still waits to be run. */
export interface Finish {
  at: LookAtFrame;
  view: View;
  /** Whether the image is the footage as it came in. */
  isFootage: boolean;
  /** A pixel-local part whose program is joined to the output's, and what it depends on. */
  waiting: { program: PointOperation[]; recipe: string };
}

/** What may be wanted of a compiled frame: how far along the path it goes, and what it appends there. */
export interface OutputDefinition<O> {
  /** How many elements light passes before it. Throws RangeError where it names an element that is not there. */
  reach(output: O, elements: readonly ElementAtFrame[]): number;
  /**
   * Shown while a control moves: the last element is kept apart from what comes before it, which then need not be done
   * again.
   */
  isForScreen?: true;
  /** Its program is joined to the last pixel-local part's, which saves reading and writing the frame once more. */
  joins?: true;
  append(builder: PlanBuilder, image: number, output: O, finish: Finish): void;
}

export const wholePath = (_: unknown, elements: readonly ElementAtFrame[]) => elements.length;

/** How many elements stand before one. */
export function upTo(id: string, elements: readonly ElementAtFrame[]): number {
  const index = elements.findIndex((element) => element.id === id);
  if (index < 0) throw new RangeError(`The look has no element “${id}”`);
  return index;
}
