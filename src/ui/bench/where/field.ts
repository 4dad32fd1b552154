import type { AreaNumber } from "@/core/where/definition";

/** A number's field, but for its value. */
export const fieldOf = ({ label, unit, track, default: own, reset = own }: AreaNumber) => ({
  label,
  unit,
  ...track,
  reset,
});
