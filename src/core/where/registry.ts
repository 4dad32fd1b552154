import { depth } from "./areas/depth";
import { key } from "./areas/key";
import { polygon } from "./areas/polygon";
import { shape } from "./areas/shape";
import type { AreaDefinition, AreaNumber } from "./definition";
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

/** The points of a polygon, which are set together. */
export const POINTS: AreaNumber = {
  label: "Points",
  unit: "% of width and height",
  default: 0,
  min: -500,
  max: 500,
  track: { min: -500, max: 500, step: 0.5 },
};

/** Of areas together. */
export const WHERE_NUMBERS = {
  feather: {
    label: "Feather",
    unit: "% of height",
    help: "blur of the whole matte, % of height",
    default: 0,
    min: 0,
    max: 50,
    track: { min: 0, max: 30, step: 0.1 },
  },
  strength: { label: "Opacity", unit: "", default: 1, min: 0, max: 1, track: { min: 0, max: 1, step: 0.01 } },
} as const satisfies Record<string, AreaNumber>;
