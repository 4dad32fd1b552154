import type { ElementState } from "../elements/definition";
import type { Frame } from "../image/image";
import type { FrameContext } from "../frame/context";

/** One line of the table: what the glass's profile says, what was measured on a chart that went through it. */
export interface Quantity {
  /** The element that put it there. */
  kind: string;
  quantity: string;
  unit: string;
  profile: number;
  measured: number;
  /** Measured less profile, in `barUnit`. */
  difference: number;
  /** The difference may be no larger. */
  bar: number;
  barUnit: string;
}

/** What a check works with: the element alone on the path, over the whole of the frame. */
export interface Trial {
  state: ElementState;
  context: FrameContext;
  through: (chart: Frame) => Frame;
}

export type Check = (trial: Trial) => Quantity[];

export const isMet = ({ difference, bar }: Quantity) => Math.abs(difference) <= bar;

/** A quantity whose difference is in its own unit. */
export const plainly = (
  kind: string,
  quantity: string,
  unit: string,
  profile: number,
  measured: number,
  bar: number,
): Quantity => ({ kind, quantity, unit, profile, measured, difference: measured - profile, bar, barUnit: unit });

/** A quantity whose difference is a share of the profile's value, %. */
export const relatively = (
  kind: string,
  quantity: string,
  unit: string,
  profile: number,
  measured: number,
  bar: number,
): Quantity => ({
  kind,
  quantity,
  unit,
  profile,
  measured,
  difference: 100 * (measured / profile - 1),
  bar,
  barUnit: "%",
});

/** The largest difference of several, as the one to report. */
export const worst = (quantities: Quantity[]): Quantity =>
  quantities.reduce((a, b) => (Math.abs(b.difference) > Math.abs(a.difference) ? b : a));
