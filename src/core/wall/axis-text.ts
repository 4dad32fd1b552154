/** Axes as they are written on the command line and in an address: KIND=value,value or ELEMENT.PARAMETER=value,value. */
import type { Axis } from "./axis";

/** Kinds by the words they are written with. */
const WORDS = {
  lens: "lens",
  stop: "stop",
  focal: "focalLength",
  focalLength: "focalLength",
  strength: "strength",
  filter: "filter",
  look: "look",
  version: "version",
} as const;

const NUMBERS = ["stop", "focalLength", "strength"];

/** milkglass:1/8,1/4,hearth:1/2 is two grades of one filter and one of another. Throws RangeError without a name. */
function filtersIn(items: readonly string[]): { profile: string; grade: string }[] {
  let profile = "";
  return items.map((item) => {
    const colon = item.indexOf(":");
    if (colon >= 0) profile = item.slice(0, colon).trim();
    if (!profile) throw new RangeError(`write filter=NAME:GRADE,GRADE; “${item}” has no name before it`);
    return { profile, grade: item.slice(colon + 1).trim() };
  });
}

/** A value as a parameter takes it: a number, yes or no, or a word. */
const parameterValue = (text: string): number | boolean | string =>
  text === "true"
    ? true
    : text === "false"
      ? false
      : text !== "" && Number.isFinite(Number(text))
        ? Number(text)
        : text;

/** Throws RangeError, in words, for what is no axis; the values are held against axisSchema by who asked. */
export function axisIn(text: string): unknown {
  const equals = text.indexOf("=");
  const name = text.slice(0, equals).trim();
  const items = text
    .slice(equals + 1)
    .split(",")
    .map((item) => item.trim());
  if (equals < 1 || items.some((item) => item === ""))
    throw new RangeError(
      "write what changes and its values, as lens=a,b, stop=1.4,2, strength=0,.5,1, filter=milkglass:1/8,1/4, look=x,y or ELEMENT.PARAMETER=1,2",
    );
  const dot = name.lastIndexOf(".");
  if (dot > 0)
    return {
      ...{ kind: "parameter", element: name.slice(0, dot), parameter: name.slice(dot + 1) },
      values: items.map(parameterValue),
    };
  const kind = Object.hasOwn(WORDS, name) ? WORDS[name as keyof typeof WORDS] : null;
  if (!kind)
    throw new RangeError(
      `“${name}” is nothing that changes along a side: lens, focal, stop, filter, strength, look, or ELEMENT.PARAMETER`,
    );
  if (kind === "filter") return { kind, values: filtersIn(items) };
  if (!NUMBERS.includes(kind)) return { kind, values: items };
  const values = items.map(Number);
  const wrong = items.find((_, i) => !Number.isFinite(values[i]));
  if (wrong !== undefined) throw new RangeError(`${name}: “${wrong}” is no number`);
  return { kind, values };
}

/** The same text back, for the address. */
export function axisText(axis: Axis): string {
  if (axis.kind === "parameter") return `${axis.element}.${axis.parameter}=${axis.values.join(",")}`;
  if (axis.kind === "filter")
    return `filter=${axis.values.map(({ profile, grade }) => `${profile}:${grade}`).join(",")}`;
  return `${axis.kind}=${axis.values.join(",")}`;
}
