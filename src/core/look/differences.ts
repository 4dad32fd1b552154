import { definitionOf } from "../elements/registry";
import { counterpartOf } from "./carry";
import { elementsOf } from "./edit";
import { type Look, type LookElement, resolveElement } from "./look";
import { type Names, numberText as number, valueText as written } from "./value-text";

export type { Names };

/** One thing in which a look differs from another, in words. */
export interface Difference {
  /**
   * The element it is in, by its id in the look that comes after, or before where it is gone; null for the look itself.
   */
  element: string | null;
  /** What it is in: “Glow”, “Lens”. */
  of: string;
  /** What changed: “Threshold”. */
  what: string;
  before: string;
  after: string;
}

const FACTOR_STEP = 0.01;
const factor = (value: number) => `${number(value, FACTOR_STEP)} ×`;
const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
const areasOf = ({ where }: Pick<LookElement, "where">) =>
  where ? `${where.areas.length} ${where.areas.length === 1 ? "area" : "areas"}` : "everywhere";
const timedOf = ({ when }: Pick<LookElement, "when">) => {
  const count = Object.keys(when ?? {}).length;
  return count ? `${count} timed` : "nothing timed";
};

type Row = readonly [what: string, before: string, after: string];
/** A row where something differs; words that are alike say that it is another of the same. */
const row = (what: string, isAlike: boolean, before: string, after: string): Row[] =>
  isAlike ? [] : [[what, before, before === after ? `${after}, changed` : after]];

function inElement(a: LookElement, b: LookElement, before: Look, after: Look, names: Names): Row[] {
  const { parameters } = definitionOf(a.kind);
  const valuesOf = (element: LookElement, { lens }: Look) =>
    resolveElement(element, lens.profile ? names.lensOf(lens.profile) : null).values;
  const [then, now] = [valuesOf(a, before), valuesOf(b, after)];
  return [
    ...row("Switched", a.on === b.on, a.on ? "on" : "off", b.on ? "on" : "off"),
    ...row("Strength", a.strength === b.strength, factor(a.strength), factor(b.strength)),
    ...row("Mix", a.mix === b.mix, number(a.mix, FACTOR_STEP), number(b.mix, FACTOR_STEP)),
    ...row(
      "Overall strength",
      Boolean(a.keptOut) === Boolean(b.keptOut),
      a.keptOut ? "kept out" : "taken",
      b.keptOut ? "kept out" : "taken",
    ),
    ...Object.entries(parameters).flatMap(([name, parameter]) =>
      row(
        parameter.label,
        isSame(then[name], now[name]),
        written(parameter, then[name], names),
        written(parameter, now[name], names),
      ),
    ),
    ...row("Where", isSame(a.where, b.where), areasOf(a), areasOf(b)),
    ...row("When", isSame(a.when, b.when), timedOf(a), timedOf(b)),
  ];
}

function inLook(before: Look, after: Look, { nameOf }: Names): Row[] {
  const glass = ({ lens }: Look) => (lens.profile ? nameOf(lens.profile) : "none");
  const viewOf = ({ view }: Look) => (view.kind === "lut" ? nameOf(view.lut ?? "") : view.kind);
  const takenOff = ({ camera: { taking } }: Look) => (taking ? nameOf(taking.profile) : "left on");
  const [a, b] = [before.lens, after.lens];
  return [
    ...row("Lens", a.profile === b.profile, glass(before), glass(after)),
    ...row(
      "Focal length",
      a.focalLength === b.focalLength,
      `${number(a.focalLength, 0.1)} mm`,
      `${number(b.focalLength, 0.1)} mm`,
    ),
    ...row("Stop", a.stop === b.stop, `T${number(a.stop, 0.1)}`, `T${number(b.stop, 0.1)}`),
    ...row(
      "Focus",
      a.focusDistance === b.focusDistance,
      `${number(a.focusDistance, 0.01)} m`,
      `${number(b.focusDistance, 0.01)} m`,
    ),
    ...row("Taking lens", isSame(before.camera.taking, after.camera.taking), takenOff(before), takenOff(after)),
    ...row("Overall strength", before.strength === after.strength, factor(before.strength), factor(after.strength)),
    ...row("View", isSame(before.view, after.view), viewOf(before), viewOf(after)),
    ...row("Where", isSame(before.where, after.where), areasOf(before), areasOf(after)),
    ...row("When", isSame(before.when, after.when), timedOf(before), timedOf(after)),
    ...row(
      "Tracks",
      isSame(before.tracks, after.tracks),
      String(before.tracks?.length ?? 0),
      String(after.tracks?.length ?? 0),
    ),
  ];
}

/**
 * In what a look differs from another, element by element, with values before and after; nothing where they make the
 * same.
 */
export function differences(before: Look, after: Look, names: Names): Difference[] {
  const look = inLook(before, after, names).map(([what, from, to]) => ({
    element: null,
    of: what === "Lens" || what === "Focal length" || what === "Stop" || what === "Focus" ? "Lens" : "Look",
    what,
    before: from,
    after: to,
  }));
  const labelOf = ({ kind }: LookElement) => definitionOf(kind).label;
  const gone = elementsOf(before).filter((element) => !counterpartOf(element, before, after));
  const lasting: LookElement[] = [];
  const elements = elementsOf(after).flatMap((element): Difference[] => {
    const then = counterpartOf(element, after, before);
    const told = { element: element.id, of: labelOf(element) };
    if (!then) return [{ ...told, what: "Element", before: "not there", after: "there" }];
    lasting.push(then);
    return inElement(then, element, before, after, names).map(([what, from, to]) => ({
      ...told,
      what,
      before: from,
      after: to,
    }));
  });
  const left = gone.map((element) => ({
    element: element.id,
    of: labelOf(element),
    what: "Element",
    before: "there",
    after: "not there",
  }));
  const inOrder = elementsOf(before).filter((element) => lasting.includes(element));
  const order = row(
    "Order",
    isSame(inOrder, lasting),
    inOrder.map(labelOf).join(", "),
    lasting.map(labelOf).join(", "),
  ).map(([what, from, to]) => ({ element: null, of: "Look", what, before: from, after: to }));
  return [...look, ...order, ...elements, ...left];
}

/** A difference in one line. */
export const differenceText = ({ of, what, before, after }: Difference): string =>
  `${of}: ${what} ${before} → ${after}`;
