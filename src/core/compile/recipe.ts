import type { ElementState } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { FrameContext } from "../frame/context";
import { elementsOf } from "../look/edit";
import { filterOf } from "../look/glass";
import type { Look } from "../look/look";
import { hashOf } from "../maths/hash";
import type { Cabinet } from "../profile/profiles";
import type { View } from "../view/view";

/** Everything an element's result depends on beside its input; its id too, from which some take their noise. */
export function recipeOf(
  state: ElementState,
  {
    geometry,
    lens,
    focalLength,
    stop,
    focusDistance,
    hasDepth,
    depthPlate,
    frameRate,
    frame,
    cabinet,
    tracks,
  }: FrameContext,
): string {
  const { profile, track } = state.values;
  const filter = typeof profile === "string" ? cabinet.filters.get(profile) : undefined;
  return JSON.stringify([
    state,
    geometry,
    contentKey(lens),
    contentKey(filter),
    typeof track === "string" ? contentKey(tracks.get(track)) : "",
    focalLength,
    stop,
    focusDistance,
    hasDepth,
    depthPlate,
    frameRate,
    definitionOf(state.kind).changesWithFrame ? frame : 0,
  ]);
}

/** What a view makes of light depends on it and its table. */
export const viewRecipe = (view: View, { tables }: Cabinet): string =>
  `${JSON.stringify(view)} ${contentKey(tables.get(view.lut ?? ""))}`;

/** The glass a look names, by what it holds. */
export const glassRecipe = (look: Look, { lenses, filters }: Cabinet): string =>
  [lenses.get(look.lens.profile ?? ""), ...elementsOf(look).map((element) => filters.get(filterOf(element) ?? ""))]
    .map(contentKey)
    .join(" ");

const keys = new WeakMap<object, string>();

/**
 * A short name for a profile or a table by what it holds, so that one which is read again is the one it was. They are immutable,
 * and looked through once.
 */
function contentKey(content: object | null | undefined): string {
  if (!content) return "";
  const known = keys.get(content);
  if (known) return known;
  const text = JSON.stringify(content, (_, value: unknown) =>
    ArrayBuffer.isView(value) ? Array.from(value as Float32Array) : value,
  );
  const key = hashOf(text);
  keys.set(content, key);
  return key;
}
