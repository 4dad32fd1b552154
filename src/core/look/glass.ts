import { definitionOf } from "../elements/registry";
import type { PathBefore } from "../frame/context";
import { contentKey } from "../maths/content-key";
import type { Cabinet } from "../profile/profiles";
import type { Look, LookElement } from "./look";

/** The filter an element is made of, by its id; null for what is not made of one. */
export function filterOf({ kind, params }: LookElement): string | null {
  const { profile } = definitionOf(kind).parameters;
  return profile?.type === "filter" ? String(params.profile ?? profile.default) : null;
}

/** The profiles a look names, by id or name, whether they act or not. */
export const glassIn = (look: Look): string[] =>
  [
    ...new Set([
      look.lens.profile,
      look.camera.taking?.profile ?? null,
      ...(look.elements as LookElement[]).map(filterOf),
    ]),
  ].filter((name) => name !== null);

/** The look with other names for its glass; what `nameFor` gives nothing for keeps its own. */
export function withGlassNamed(look: Look, nameFor: (name: string) => string | undefined): Look {
  const { profile } = look.lens;
  const elements = (look.elements as LookElement[]).map((element) => {
    const name = filterOf(element);
    const other = name === null ? undefined : nameFor(name);
    return other === undefined ? element : { ...element, params: { ...element.params, profile: other } };
  });
  const { taking } = look.camera;
  return {
    ...look,
    camera: {
      ...look.camera,
      ...(taking ? { taking: { ...taking, profile: nameFor(taking.profile) ?? taking.profile } } : {}),
    },
    lens: { ...look.lens, ...(profile ? { profile: nameFor(profile) ?? profile } : {}) },
    elements: elements as Look["elements"],
  };
}

/** Whether an element acts at some frame or other: what is 0 in the look may be keyframed above it. */
export function mayAct(look: Look, { on, strength, mix, when, keptOut }: LookElement): boolean {
  const isReached = keptOut || look.strength !== 0 || look.when?.strength !== undefined;
  return on && isReached && (strength !== 0 || when?.strength !== undefined) && (mix !== 0 || when?.mix !== undefined);
}

/** The glass a look names, by what it holds. */
export const glassRecipe = (look: Look, { lenses, filters }: Cabinet): string =>
  [
    lenses.get(look.lens.profile ?? ""),
    lenses.get(look.camera.taking?.profile ?? ""),
    ...(look.elements as LookElement[]).map((element) => filters.get(filterOf(element) ?? "")),
  ]
    .map(contentKey)
    .join(" ");

/** The look as far as it goes before an element, all over the frame; null where nothing before it acts. */
export function pathBefore(look: Look, cabinet: Cabinet, element: string): PathBefore | null {
  const elements = look.elements as LookElement[];
  const before = elements.slice(
    0,
    Math.max(
      0,
      elements.findIndex(({ id }) => id === element),
    ),
  );
  if (!before.some(mayActIn(look)) && !look.camera.taking) return null;
  const path: Look = { ...look, elements: before, where: undefined };
  return { look: path, glass: glassRecipe(path, cabinet) };
}

const mayActIn = (look: Look) => (element: LookElement) => mayAct(look, element);

/** The footage an element takes beside the shot, by the names the look knows it under. */
const footageOf = ({ kind, params }: LookElement): string[] =>
  Object.entries(definitionOf(kind).parameters)
    .filter(([, { type }]) => type === "footage")
    .map(([name]) => String(params[name] ?? ""))
    .filter(Boolean);

/** The footage a look takes beside the shot: plates that are laid over it, pictures of dirt, distances. */
export const platesIn = (look: Look): string[] => [
  ...(look.elements as LookElement[]).filter(mayActIn(look)).flatMap(footageOf),
  ...(look.depth ? [look.depth.footage] : []),
];

/**
 * The glass a look names and a cabinet does not have, each with its path: a render without it would look finished and
 * be wrong.
 */
export function missingGlass(look: Look, cabinet: Cabinet): string[] {
  const missing: string[] = [];
  if (look.lens.profile && !cabinet.lenses.has(look.lens.profile))
    missing.push(`lens.profile: there is no lens “${look.lens.profile}”`);
  const { taking } = look.camera;
  if (taking && !cabinet.lenses.has(taking.profile))
    missing.push(`camera.taking.profile: there is no lens “${taking.profile}”`);
  for (const [i, element] of (look.elements as LookElement[]).entries()) {
    const name = filterOf(element);
    if (name === null || !mayAct(look, element)) continue;
    const filter = cabinet.filters.get(name);
    const { grade } = element.params;
    if (!filter) missing.push(`elements.${i}.params.profile: there is no filter “${name}”`);
    else if (grade !== undefined && !filter.grades.some((entry) => entry.grade === grade))
      missing.push(
        `elements.${i}.params.grade: ${name} has no grade “${String(grade)}”; it has ${filter.grades.map((entry) => entry.grade).join(", ")}`,
      );
  }
  return missing;
}
