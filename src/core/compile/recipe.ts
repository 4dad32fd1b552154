import type { ElementState } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { FrameContext } from "../frame/context";
import { contentKey } from "../maths/content-key";
import type { Cabinet } from "../profile/profiles";
import type { View } from "../view/view";
import type { Where } from "../where/schema";

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
    shot,
    cabinet,
    tracks,
    pathBefore,
  }: FrameContext,
): string {
  const { profile, track } = state.values;
  const { changesWithFrame, takesPathBefore } = definitionOf(state.kind);
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
    // A depth plate's frame goes by the shot's.
    ...(changesWithFrame || depthPlate ? [frame, shot] : [0]),
    takesPathBefore ? pathBefore(state.id) : "",
  ]);
}

/** Everything an area by itself depends on, beside the pixels. */
export const areaRecipe = (where: Where, { geometry, hasDepth, depthPlate, frame, shot }: FrameContext): string =>
  JSON.stringify([where, geometry, hasDepth, depthPlate, frame, shot]);

/** What a view makes of light depends on it and its table. */
export const viewRecipe = (view: View, { tables }: Cabinet): string =>
  `${JSON.stringify(view)} ${contentKey(tables.get(view.lut ?? ""))}`;
