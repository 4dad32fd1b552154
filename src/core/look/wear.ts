/** Other glass on a look, as it is chosen on the Bench and for the test wall. */
import { definitionOf } from "../elements/registry";
import type { FilterProfile, LensProfile } from "../profile/profiles";
import { addElement, elementsOf, setAt } from "./edit";
import { filterOf } from "./glass";
import type { Look } from "./look";

/** The look with a lens, at the first focal length it was measured at; null takes the lens off. */
export function withLens(look: Look, lens: LensProfile | null, frame: number): Look {
  const named = setAt(look, [null, "lens.profile"], lens?.id ?? null, frame);
  const own = lens?.focalLengths?.[0];
  return own ? setAt(named, [null, "lens.focalLength"], own, frame) : named;
}

/** Elements that a lens's tables act through. */
const ELEMENT_OF_TABLE = {
  veil: "veil",
  streak: "streak",
  swirl: "swirl",
  distortion: "distortion",
  lateralColour: "lateralColour",
  mtf: "sharpness",
  illumination: "illumination",
  transmission: "transmission",
} as const satisfies Partial<Record<keyof LensProfile, string>>;

/**
 * The look with the elements its lens needs to be seen: all that the lens was measured for, where the path has none of
 * them; else as it is, for what was left out was left out by choice.
 */
export function withBarrel(look: Look, lens: LensProfile): Look {
  const kinds: string[] = Object.values(ELEMENT_OF_TABLE);
  if (elementsOf(look).some(({ kind }) => kinds.includes(kind))) return look;
  const measured = Object.entries(ELEMENT_OF_TABLE).filter(([table]) => {
    const value = lens[table as keyof LensProfile];
    return Array.isArray(value) ? value.length > 0 : value !== undefined;
  });
  return measured.reduce((before, [, kind]) => addElement(before, kind).look, look);
}

/** The kind of element that a filter is at home in: the one that has it unless another is chosen, or diffusion. */
const homeOf = (filter: string): string =>
  ["net", "fog"].find((kind) => {
    const { profile } = definitionOf(kind).parameters;
    return profile?.type === "filter" && profile.default === filter;
  }) ?? "diffusion";

/** The look with a filter of a grade in place of its first one, or, where it has none, before all else. */
export function withFilter(look: Look, filter: FilterProfile, grade: string, frame: number): Look {
  const first = elementsOf(look).find((element) => element.on && filterOf(element) !== null);
  const { look: with_, id } = first ? { look, id: first.id } : addElement(look, homeOf(filter.id), 0);
  return setAt(setAt(with_, [id, "profile"], filter.id, frame), [id, "grade"], grade, frame);
}
