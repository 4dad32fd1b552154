import type { ElementState } from "../elements/definition";
import { definitionOf } from "../elements/registry";
import type { FrameContext } from "../frame/context";
import { contentKey } from "../maths/content-key";
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
    ...(changesWithFrame ? [frame, shot] : [0]),
    takesPathBefore ? pathBefore(state.id) : "",
  ]);
}

/** What a view makes of light depends on it and its table. */
export const viewRecipe = (view: View, { tables }: Cabinet): string =>
  `${JSON.stringify(view)} ${contentKey(tables.get(view.lut ?? ""))}`;
