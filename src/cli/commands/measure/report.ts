import type { Channel } from "../../../core/measure/chart";

const DIGITS = 5;
export const round = (value: number) => Number(value.toPrecision(DIGITS));
export const each = <T, U>({ red, green, blue }: Record<Channel, T>, value: (one: T) => U): Record<Channel, U> => ({
  red: value(red),
  green: value(green),
  blue: value(blue),
});

/** What was measured: facts, and columns of one length. The uncertainty is green's, one standard error. */
export interface Report {
  facts: Record<string, string>;
  columns: Record<string, number[]>;
  /** Tables as a profile holds them. */
  tables?: Record<string, unknown[]>;
}
