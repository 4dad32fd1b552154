/** What changes along a side of the test wall. */
import { z } from "zod";
import { definitionOf } from "../elements/registry";
import { carried } from "../look/carry";
import { elementsOf, setAt, type Settable } from "../look/edit";
import type { Look } from "../look/look";
import { elementRanges } from "../look/ranges";
import { withBarrel, withFilter, withLens } from "../look/wear";
import type { Cabinet } from "../profile/profiles";

/** Tiles along a side, at most. */
export const MAX_STEPS = 24;

const list = <T extends z.ZodType>(of: T) => z.array(of).min(1).max(MAX_STEPS);
const name = z.string().min(1).max(120);

export const axisSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("lens"), values: list(name) }).strict(),
  z.object({ kind: z.literal("stop"), values: list(z.number().min(0.5).max(128)) }).strict(),
  z.object({ kind: z.literal("focalLength"), values: list(z.number().min(1).max(1000)) }).strict(),
  z.object({ kind: z.literal("strength"), values: list(z.number().min(0).max(2)) }).strict(),
  z.object({ kind: z.literal("filter"), values: list(z.object({ profile: name, grade: name }).strict()) }).strict(),
  z.object({ kind: z.literal("look"), values: list(name) }).strict(),
  z.object({ kind: z.literal("version"), values: list(name) }).strict(),
  z
    .object({
      kind: z.literal("parameter"),
      element: name,
      parameter: name,
      values: list(z.union([z.number(), z.string().max(120), z.boolean()])),
    })
    .strict(),
]);
export type Axis = z.output<typeof axisSchema>;
export type AxisKind = Axis["kind"];

export const AXIS_LABELS: Record<AxisKind, string> = {
  lens: "Lenses",
  filter: "Filters",
  stop: "Stops",
  focalLength: "Focal lengths",
  strength: "Strengths",
  look: "Looks",
  version: "Versions",
  parameter: "A parameter",
};

/** One place along a side: what it is called, and what it makes of a look. */
export interface Step {
  label: string;
  apply(look: Look): Look;
}

/** What axes name. */
export interface WallGlass {
  cabinet: Cabinet;
  /** Looks and versions by the names axes know them under, with what they are called. */
  looks: ReadonlyMap<string, { label: string; look: Look }>;
  frame: number;
}

/** A name that an axis gives and nothing bears. */
export class UnknownName extends Error {}

const found = <T>(map: ReadonlyMap<string, T>, key: string, what: string): T => {
  const one = map.get(key);
  if (one === undefined) throw new UnknownName(`there is no ${what} “${key}”`);
  return one;
};

const percent = (value: number) => `${Number((100 * value).toFixed(1))} %`;

/** An element of a look by its id or, where that is none, its kind. */
const elementBy = (look: Look, element: string) => {
  const elements = elementsOf(look);
  return elements.find(({ id }) => id === element) ?? elements.find(({ kind }) => kind === element);
};

/** What an element's parameter is called, and its unit. */
function parameterOf(look: Look, element: string, parameter: string) {
  const own = elementBy(look, element);
  if (!own) throw new UnknownName(`the look has no element “${element}”`);
  const definition = definitionOf(own.kind);
  const range = elementRanges(definition.negative)[parameter];
  const defined = definition.parameters[parameter];
  if (!range && !defined)
    throw new UnknownName(
      `${definition.label} has no parameter “${parameter}”; it has strength, mix, ${Object.keys(definition.parameters).join(", ")}`,
    );
  const unit = defined?.type === "number" && defined.unit ? ` ${defined.unit}` : "";
  const options = defined?.type === "choice" ? defined.options : undefined;
  return { title: `${definition.label}, ${defined?.label ?? parameter}`, unit, options };
}

/** The element and parameter that an axis is about, in words; for all others, the axis's own name. */
export function axisTitle(axis: Axis, look: Look): string {
  return axis.kind === "parameter" ? parameterOf(look, axis.element, axis.parameter).title : AXIS_LABELS[axis.kind];
}

/** The places along an axis. Throws UnknownName for what is not there. */
export function stepsOf(axis: Axis, look: Look, { cabinet, looks, frame }: WallGlass): Step[] {
  const set = (path: string, value: Settable) => (of: Look) => setAt(of, [null, path], value, frame);
  switch (axis.kind) {
    case "lens":
      return axis.values.map((id) => {
        const lens = found(cabinet.lenses, id, "lens");
        return { label: lens.name, apply: (of) => withBarrel(withLens(of, lens, frame), lens) };
      });
    case "stop":
      return axis.values.map((stop) => ({ label: `T${stop}`, apply: set("lens.stop", stop) }));
    case "focalLength":
      return axis.values.map((mm) => ({ label: `${mm} mm`, apply: set("lens.focalLength", mm) }));
    case "strength":
      return axis.values.map((strength) => ({ label: percent(strength), apply: set("strength", strength) }));
    case "filter":
      return axis.values.map(({ profile, grade }) => {
        const filter = found(cabinet.filters, profile, "filter");
        if (!filter.grades.some((one) => one.grade === grade))
          throw new UnknownName(
            `${filter.name} has no grade “${grade}”; it has ${filter.grades.map((one) => one.grade).join(", ")}`,
          );
        return { label: `${filter.name} ${grade}`, apply: (of) => withFilter(of, filter, grade, frame) };
      });
    case "look":
    case "version":
      return axis.values.map((id) => {
        const other = found(looks, id, axis.kind);
        // Another look as this shot would wear it, seen the same way.
        return { label: other.label, apply: (of) => ({ ...carried(other.look, of, "all", "instead"), view: of.view }) };
      });
    case "parameter": {
      const { unit, options } = parameterOf(look, axis.element, axis.parameter);
      return axis.values.map((value) => ({
        label: options && Object.hasOwn(options, String(value)) ? options[String(value)]! : `${String(value)}${unit}`,
        // A look that the other side puts in its place may have no such element.
        apply: (of) => {
          const own = elementBy(of, axis.element);
          return own ? setAt(of, [own.id, axis.parameter], value, frame) : of;
        },
      }));
    }
  }
}

/** Axes whose steps replace the look go first, then glass, then what is set on it. */
const ORDER: readonly AxisKind[] = [
  "look",
  "version",
  "lens",
  "filter",
  "focalLength",
  "stop",
  "parameter",
  "strength",
];

export interface Tile {
  row: number;
  column: number;
  look: Look;
}

export interface Wall {
  across: readonly string[];
  down: readonly string[];
  tiles: readonly Tile[];
}

/** A look that does not change along a side. */
const NO_STEPS: Step[] = [{ label: "", apply: (look) => look }];

/** Every tile of a wall, row by row: the look with both sides' steps. Throws UnknownName for what is not there. */
export function wallOf(look: Look, across: Axis | null, down: Axis | null, glass: WallGlass): Wall {
  const [columns, rows] = [across, down].map((axis) => (axis ? stepsOf(axis, look, glass) : NO_STEPS)) as [
    Step[],
    Step[],
  ];
  const isDownFirst = down !== null && (across === null || ORDER.indexOf(down.kind) <= ORDER.indexOf(across.kind));
  return {
    across: columns.map(({ label }) => label),
    down: rows.map(({ label }) => label),
    tiles: rows.flatMap((r, row) =>
      columns.map((c, column) => ({
        row,
        column,
        look: isDownFirst ? c.apply(r.apply(look)) : r.apply(c.apply(look)),
      })),
    ),
  };
}

/** The tiles by how near they are to one, the nearest first: what is looked at is made first. */
export const nearestFirst = <T extends Pick<Tile, "row" | "column">>(
  tiles: readonly T[],
  { row, column }: Pick<Tile, "row" | "column">,
): T[] => {
  const far = (tile: T) => (tile.row - row) ** 2 + (tile.column - column) ** 2;
  return [...tiles].sort((a, b) => far(a) - far(b));
};
