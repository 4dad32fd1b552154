/** Values of parameters as they stand in words. */
import type { Parameter } from "../elements/definition";
import { digitsOf } from "../maths/digits";
import type { LensProfile } from "../profile/profiles";

/** Names of glass and tables, and the lens that fills in what a look leaves to it. */
export interface Names {
  nameOf(id: string): string;
  lensOf(id: string): LensProfile | null;
}

const withUnit = (text: string, unit: string) => (unit ? `${text} ${unit}` : text);
export const numberText = (value: number, step: number) => value.toFixed(digitsOf(step)).replace("-", "−");

/** A parameter's value as it stands in words. */
export function valueText(parameter: Parameter, value: unknown, { nameOf }: Names): string {
  switch (parameter.type) {
    case "number":
      return withUnit(numberText(value as number, parameter.step), parameter.unit);
    case "triple":
      return withUnit((value as number[]).map((part) => numberText(part, parameter.step)).join(", "), parameter.unit);
    case "colour":
      return (value as number[]).map((part) => numberText(part, 0.01)).join(", ");
    case "curve":
      return (value as number[][]).map(([x, y]) => `${numberText(x!, 0.01)} → ${numberText(y!, 0.01)}`).join(", ");
    case "choice":
      return parameter.options[String(value)] ?? String(value);
    case "toggle":
      return value ? "on" : "off";
    default:
      return value ? nameOf(String(value)) : "none";
  }
}
