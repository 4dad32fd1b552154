import type { Area } from "./schema";

/** A number of an area as it is set by hand: what it is called, its unit, and where a track goes from and to. */
export interface AreaField {
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  reset: number;
}

const field = (label: string, unit: string, min: number, max: number, step: number, reset: number): AreaField => ({
  label,
  unit,
  min,
  max,
  step,
  reset,
});

/** The numbers of an area, by its kind and their names. */
export const AREA_FIELDS: Record<Area["kind"], Record<string, AreaField>> = {
  shape: {
    x: field("Across", "% of width", -100, 100, 0.5, 0),
    y: field("Down", "% of height", -100, 100, 0.5, 0),
    width: field("Width", "% of height", 1, 300, 1, 60),
    height: field("Height", "% of height", 1, 300, 1, 60),
    rotation: field("Rotation", "°", -180, 180, 1, 0),
    roundness: field("Roundness", "", 0, 1, 0.01, 1),
    outer: field("Outer line", "× inner", 1, 6, 0.01, 1.5),
  },
  polygon: {
    rounding: field("Rounding", "% of height", 0, 50, 0.5, 0),
    soft: field("Outer line", "% of height", 0, 60, 0.5, 5),
  },
  key: {
    low: field("From", "stops", -10, 10, 0.1, -16),
    high: field("To", "stops", -10, 16, 0.1, 16),
    soft: field("Softness", "stops", 0, 6, 0.1, 1),
    steady: field("Against grain", "% of height", 0, 2, 0.01, 0.15),
    blur: field("Matte blur", "% of height", 0, 10, 0.1, 0),
    black: field("Matte black point", "", 0, 0.9, 0.01, 0),
    white: field("Matte white point", "", 0.1, 1, 0.01, 1),
  },
  depth: {
    near: field("Near", "m", 0, 200, 0.1, 0),
    far: field("Far", "m", 0.1, 500, 0.1, 100),
    soft: field("Softness", "of distance", 0, 2, 0.01, 0.2),
  },
};

/** Of a key that has a colour. */
export const KEY_COLOUR_FIELDS: Record<string, AreaField> = {
  width: field("Colour width", "", 0.005, 0.5, 0.005, 0.08),
  colourSoft: field("Colour softness", "", 0.005, 0.5, 0.005, 0.05),
};

/** The points of a polygon, which are set together. */
export const POINTS_FIELD: AreaField = field("Points", "% of width and height", -500, 500, 0.5, 0);

/** Of every area, and of areas together. */
export const WHERE_FIELDS: Record<"feather" | "strength", AreaField> = {
  feather: field("Feather", "% of height", 0, 30, 0.1, 0),
  strength: field("Opacity", "", 0, 1, 0.01, 1),
};

export const AREA_LABELS: Record<Area["kind"], string> = {
  shape: "Shape",
  polygon: "Polygon",
  key: "Key on light",
  depth: "Range of depth",
};

/** An area as it is called: by its own name, or by its kind. */
export const areaLabel = ({ name, kind }: Area): string => name || AREA_LABELS[kind];
