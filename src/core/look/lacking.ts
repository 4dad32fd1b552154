import { definitionOf } from "../elements/registry";
import type { Cabinet, LensProfile } from "../profile/profiles";
import { elementsOf, setAt, withElements } from "./edit";
import { filterOf } from "./glass";
import { type Look, type LookElement, resolveElement } from "./look";

/** What there is here for a look to be made of. */
export interface Here {
  cabinet: Cabinet;
  /** Shots, which may be laid over one another. */
  shots: readonly { id: string; name: string }[];
  /** Whether the shot says how far things are. */
  hasDepth: boolean;
}

/** Something that a look names or needs and that is not here. */
export interface Lack {
  what: "lens" | "taking lens" | "filter" | "grade" | "footage" | "depth";
  /** The element that needs it; null for the look's lenses. */
  element: string | null;
  /** Name of the parameter that names it. */
  parameter: string;
  /** As the look names it. */
  named: string;
  /** What may stand in for it, the nearest first; the value to set, and its name. Nothing where it is done without. */
  standIns: readonly { value: string; name: string }[];
}

/** Lenses by how near they come to what is asked for: of the same squeeze first, then by their focal lengths. */
function nearestLenses(lenses: readonly LensProfile[], focalLength: number, squeeze: number) {
  const focalOf = (lens: LensProfile) =>
    [...(lens.mtf ?? []), ...(lens.distortion ?? [])].map((entry) => entry.focalLength)[0] ?? focalLength;
  const farness = (lens: LensProfile) =>
    Math.abs(Math.log2(focalOf(lens) / focalLength)) + (Math.abs((lens.squeeze ?? 1) - squeeze) > 0.01 ? 10 : 0);
  return [...lenses].sort((a, b) => farness(a) - farness(b)).map(({ id, name }) => ({ value: id, name }));
}

const unique = <T extends { id: string }>(all: Iterable<T>) => [
  ...new Map([...all].map((one) => [one.id, one])).values(),
];

function lackOf(element: LookElement, { cabinet, shots, hasDepth }: Here, look: Look): Lack[] {
  const { parameters, usesDepth } = definitionOf(element.kind);
  const of = { element: element.id };
  const lacks: Lack[] = [];
  const name = filterOf(element);
  const filter = name === null ? undefined : cabinet.filters.get(name);
  if (name !== null && !filter)
    lacks.push({
      ...of,
      what: "filter",
      parameter: "profile",
      named: name,
      standIns: unique(cabinet.filters.values()).map(({ id, name: label }) => ({ value: id, name: label })),
    });
  const { grade } = element.params;
  if (filter && grade !== undefined && !filter.grades.some((entry) => entry.grade === grade))
    lacks.push({
      ...of,
      what: "grade",
      parameter: "grade",
      named: String(grade),
      standIns: filter.grades.map((entry) => ({ value: entry.grade, name: `${filter.name} ${entry.grade}` })),
    });
  for (const [parameter, { type }] of Object.entries(parameters)) {
    const plate = type === "footage" ? String(element.params[parameter] ?? "") : "";
    if (plate && !shots.some(({ id }) => id === plate))
      lacks.push({
        ...of,
        what: "footage",
        parameter,
        named: plate,
        standIns: shots.map(({ id, name: label }) => ({ value: id, name: label })),
      });
  }
  const isByDepth =
    usesDepth?.(resolveElement(element, null)) || element.where?.areas.some(({ kind }) => kind === "depth");
  if (isByDepth && !hasDepth && !look.depth)
    lacks.push({ ...of, what: "depth", parameter: "", named: "", standIns: [] });
  return lacks;
}

/** What a look lacks here, the lens first; elements that are off lack nothing. */
export function lacking(look: Look, here: Here): Lack[] {
  const { squeeze, taking } = look.camera;
  const lensLack = (
    what: "lens" | "taking lens",
    parameter: string,
    named: string | null,
    focalLength: number,
  ): Lack[] =>
    named && !here.cabinet.lenses.has(named)
      ? [
          {
            what,
            element: null,
            parameter,
            named,
            standIns: nearestLenses(unique(here.cabinet.lenses.values()), focalLength, squeeze),
          },
        ]
      : [];
  return [
    ...lensLack("lens", "lens.profile", look.lens.profile, look.lens.focalLength),
    ...(taking ? lensLack("taking lens", "camera.taking.profile", taking.profile, taking.focalLength) : []),
    ...elementsOf(look)
      .filter(({ on }) => on)
      .flatMap((element) => lackOf(element, here, look)),
  ];
}

/** A look with something in place of what it lacks; null does without it: the element is off, or there is no lens. */
export function withStandIn(look: Look, { what, element, parameter }: Lack, value: string | null): Look {
  if (what === "taking lens") {
    const { taking, ...camera } = look.camera;
    return { ...look, camera: value && taking ? { ...camera, taking: { ...taking, profile: value } } : camera };
  }
  if (element === null) return { ...look, lens: { ...look.lens, profile: value } };
  if (value !== null) return setAt(look, [element, parameter], value, 0);
  if (what === "footage") return setAt(look, [element, parameter], "", 0);
  return withElements(
    look,
    elementsOf(look).map((entry) => (entry.id === element ? { ...entry, on: false } : entry)),
  );
}

/** A lack in words. */
export function lackText({ what, element, named }: Lack, look: Look): string {
  const found = elementsOf(look).find(({ id }) => id === element);
  const of = found ? `${definitionOf(found.kind).label}: ` : "";
  if (what === "depth") return `${of}this footage does not say how far things are; it acts as if all were as far`;
  return `${of}there is no ${what} “${named}” here`;
}
