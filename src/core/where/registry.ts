import { depth } from "./areas/depth";
import { key } from "./areas/key";
import { polygon } from "./areas/polygon";
import { shape } from "./areas/shape";
import type { AreaDefinition } from "./definition";
import type { Area, AreaKind } from "./schema";

/** Every kind of area, in the order in which they are offered. */
export const AREAS: { readonly [K in AreaKind]: AreaDefinition<Extract<Area, { kind: K }>> } = {
  shape,
  polygon,
  key,
  depth,
};
export const AREA_KINDS = Object.keys(AREAS) as AreaKind[];

/** The definition of an area's kind. */
export const areaDefinition = ({ kind }: Pick<Area, "kind">): AreaDefinition<Area> =>
  AREAS[kind] as AreaDefinition<never> as AreaDefinition<Area>;

/** An area as it is called: by its own name, or by its kind. */
export const areaLabel = (area: Area): string => area.name || areaDefinition(area).label;
