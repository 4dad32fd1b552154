import { definitionOf } from "../elements/registry";
import type { AreaNumber } from "../where/definition";
import { POINTS, WHERE_NUMBERS } from "../where/numbers";
import { areaDefinition, areaLabel } from "../where/registry";
import { elementNamed, type Path, whereOf } from "./edit";
import type { Look } from "./look";
import { LENS_NUMBERS, MAX_OVERALL, LOOK_RANGES, rangeOf } from "./ranges";

/** What a timed value is called and measured in, and the range it is held to. */
export interface Described {
  /** What it belongs to: an element, an area, the look. */
  of: string;
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
}

const OWN: Record<string, Omit<Described, "of">> = {
  strength: { label: "Overall strength", unit: "×", min: 0, max: MAX_OVERALL, step: 0.01 },
  "lens.focalLength": { ...LENS_NUMBERS.focalLength, ...LOOK_RANGES["lens.focalLength"]!, step: 0.1 },
  "lens.stop": { ...LENS_NUMBERS.stop, ...LOOK_RANGES["lens.stop"]!, step: 0.1 },
  "lens.focusDistance": { ...LENS_NUMBERS.focusDistance, ...LOOK_RANGES["lens.focusDistance"]!, step: 0.01 },
};

const ANY = { min: -Infinity, max: Infinity, step: 0.01 };

/** Of a path into a `where`: `where.areas.<id>.x`, `where.feather`. */
function inWhere(look: Look, [id, name]: Path, owner: string): Described {
  const [, part, area, value] = name.split(".");
  const found = part === "areas" && whereOf(look, id)?.areas.find((entry) => entry.id === area);
  const numbers: Record<string, AreaNumber> = found
    ? { ...areaDefinition(found).numbers, points: POINTS, strength: WHERE_NUMBERS.strength }
    : WHERE_NUMBERS;
  const number = numbers[found ? value! : part!];
  const of = found ? `${owner}, ${areaLabel(found)}` : `${owner}, area`;
  if (number) return { of, label: number.label, unit: number.unit, ...number.track };
  return { ...ANY, of, label: value ?? part ?? name, unit: "" };
}

/** What a value of a look is called, in what it is measured and how far it goes. */
export function describe(look: Look, path: Path): Described {
  const [id, name] = path;
  if (id === null) {
    const own = OWN[name];
    return own ? { ...own, of: "Look" } : inWhere(look, path, "Whole path");
  }
  const definition = definitionOf(elementNamed(look, id).kind);
  const of = definition.label;
  if (name === "strength")
    return { of, label: "Strength", unit: "×", min: definition.negative ? -10 : 0, max: 10, step: 0.01 };
  if (name === "mix") return { of, label: "Mix", unit: "", min: 0, max: 1, step: 0.01 };
  const parameter = definition.parameters[name];
  if (!parameter) return inWhere(look, path, of);
  const unit = "unit" in parameter ? parameter.unit : "";
  const step = "step" in parameter ? parameter.step : ANY.step;
  return { of, label: parameter.label, unit, step, ...(rangeOf(parameter) ?? ANY) };
}
