// Generated from src/core/engine/records.ts by `npm run records`; change it there.

// The operations of a program.
export const MATRIX: i32 = 1;
export const RADIAL: i32 = 2;
export const SHAPE: i32 = 3;
export const CDL: i32 = 4;
export const CURVE: i32 = 5;
export const CURVES: i32 = 6;
export const GRAIN: i32 = 7;
export const QUANTISE: i32 = 8;
export const KEEP: i32 = 9;
export const MIX: i32 = 10;
export const MATTE: i32 = 11;
export const SCRUB: i32 = 12;
export const DIFFERENCE: i32 = 13;
export const LINE: i32 = 14;
export const CUBE: i32 = 15;
export const CLAMP: i32 = 16;
export const OFFSET: i32 = 17;
export const LANES: i32 = 18;
export const BLEND: i32 = 19;
export const PRODUCT: i32 = 20;
export const UNSHARP: i32 = 21;
export const LAYER: i32 = 22;
export const BALANCE: i32 = 23;
export const CLEAR: i32 = 24;
export const SHAPE_MATTE: i32 = 25;
export const POLYGON_MATTE: i32 = 26;
export const KEY_MATTE: i32 = 27;
export const DEPTH_MATTE: i32 = 28;
export const JOIN_MATTE: i32 = 29;
export const OVERLAY: i32 = 30;
export const TAKE: i32 = 31;
export const SUM: i32 = 32;
export const HUES: i32 = 33;
export const LEAST: i32 = 34;
export const UNASSOCIATE: i32 = 35;

// How parts of an area join.
export const COMBINE_UNION: i32 = 0;
export const COMBINE_INTERSECTION: i32 = 1;
export const COMBINE_DIFFERENCE: i32 = 2;

// How a layer joins the picture.
export const MODE_ADD: i32 = 0;
export const MODE_LIGHTEN: i32 = 1;
export const MODE_SOFT: i32 = 2;
export const MODE_OVERLAY: i32 = 3;
export const MODE_DODGE: i32 = 4;
export const MODE_SCREEN: i32 = 5;
export const MODE_MULTIPLY: i32 = 6;
export const MODE_OVER: i32 = 7;

// Which frame a channel comes from.
export const FRAME_ROW: i32 = 0;
export const FRAME_OTHER: i32 = 1;
export const FRAME_THIRD: i32 = 2;

// What a key judges light by.
export const JUDGED_SUM: i32 = 0;
export const JUDGED_MAXIMUM: i32 = 1;
export const JUDGED_EACH: i32 = 2;

// Mid-grey and its logarithm; bits of a float that a segment of a curve spans; the reach of a grain's filter, px.
export const MID_GREY: f32 = 0.18;
export const LOG2_MID_GREY: f32 = -2.473931188332412;
export const CURVE_SHIFT: i32 = 15;
export const GRAIN_MAX_RADIUS: i32 = 40;

// Where the fields of a highlight key stand, bytes.
/** triple */
export const KEY_WEIGHTS: usize = 0;
/** sum, maximum, each */
export const KEY_JUDGED: usize = 12;
/** light */
export const KEY_LOW: usize = 16;
/** light */
export const KEY_HIGH: usize = 20;
/** light */
export const KEY_MIDDLE: usize = 24;
/** light */
export const KEY_LIMIT: usize = 28;

// Where the fields of each operation stand, bytes.
/** vector */
export const MATRIX_FROM_RED: usize = 0;
/** vector */
export const MATRIX_FROM_GREEN: usize = 16;
/** vector */
export const MATRIX_FROM_BLUE: usize = 32;
/** px */
export const RADIAL_AXIS_X: usize = 0;
/** px */
export const RADIAL_AXIS_Y: usize = 4;
/** mm/px */
export const RADIAL_PITCH_X: usize = 8;
/** mm/px */
export const RADIAL_PITCH_Y: usize = 12;
/** 1/mm2 */
export const RADIAL_ENTRIES: usize = 16;
/** number */
export const RADIAL_LAST: usize = 20;
/** table */
export const RADIAL_TABLE: usize = 24;
/** px */
export const SHAPE_CENTRE_X: usize = 0;
/** px */
export const SHAPE_CENTRE_Y: usize = 4;
/** 1/px */
export const SHAPE_ACROSS_X: usize = 8;
/** 1/px */
export const SHAPE_ACROSS_Y: usize = 12;
/** 1/px */
export const SHAPE_DOWN_X: usize = 16;
/** 1/px */
export const SHAPE_DOWN_Y: usize = 20;
/** number */
export const SHAPE_POWER: usize = 24;
/** ratio */
export const SHAPE_OUTER: usize = 28;
/** stops */
export const SHAPE_EXPOSURE: usize = 32;
/** ratio */
export const SHAPE_SATURATION: usize = 36;
/** vector */
export const SHAPE_LUMINANCE: usize = 48;
/** vector */
export const SHAPE_COLOUR: usize = 64;
/** vector */
export const CDL_SLOPE: usize = 0;
/** vector */
export const CDL_OFFSET: usize = 16;
/** vector */
export const CDL_POWER: usize = 32;
/** vector */
export const CDL_LUMINANCE: usize = 48;
/** ratio */
export const CDL_SATURATION: usize = 64;
/** flag */
export const CDL_BENDS: usize = 68;
/** bits */
export const CURVE_FIRST: usize = 0;
/** count */
export const CURVE_LAST: usize = 4;
/** table */
export const CURVE_TABLE: usize = 8;
/** bits */
export const CURVES_FIRST: usize = 0;
/** count */
export const CURVES_LAST: usize = 4;
/** table */
export const CURVES_TABLE: usize = 8;
/** seed */
export const GRAIN_SEED: usize = 0;
/** count */
export const GRAIN_RADIUS: usize = 4;
/** ratio */
export const GRAIN_COMMON: usize = 8;
/** ratio */
export const GRAIN_OWN: usize = 12;
/** vector */
export const GRAIN_LAYERS: usize = 16;
/** stops */
export const GRAIN_SHADOW: usize = 32;
/** stops */
export const GRAIN_MIDDLE: usize = 36;
/** stops */
export const GRAIN_HIGHLIGHT: usize = 40;
/** stops */
export const GRAIN_SHADOW_AT: usize = 44;
/** stops */
export const GRAIN_HIGHLIGHT_AT: usize = 48;
/** table */
export const GRAIN_TAPS: usize = 52;
/** ratio */
export const MIX_AMOUNT: usize = 0;
/** triple */
export const MATTE_WEIGHTS: usize = 0;
/** sum, maximum, each */
export const MATTE_JUDGED: usize = 12;
/** light */
export const MATTE_LOW: usize = 16;
/** light */
export const MATTE_HIGH: usize = 20;
/** light */
export const MATTE_MIDDLE: usize = 24;
/** light */
export const MATTE_LIMIT: usize = 28;
/** ratio */
export const DIFFERENCE_AMOUNT: usize = 0;
/** ratio */
export const DIFFERENCE_BASE: usize = 4;
/** vector */
export const LINE_LOW: usize = 0;
/** vector */
export const LINE_SCALE: usize = 16;
/** count */
export const LINE_SIZE: usize = 32;
/** table */
export const LINE_TABLE: usize = 36;
/** vector */
export const CUBE_LOW: usize = 0;
/** vector */
export const CUBE_SCALE: usize = 16;
/** count */
export const CUBE_SIZE: usize = 32;
/** table */
export const CUBE_TABLE: usize = 36;
/** flag */
export const CUBE_TRILINEAR: usize = 40;
/** light */
export const CLAMP_LOW: usize = 0;
/** light */
export const CLAMP_HIGH: usize = 4;
/** vector */
export const OFFSET_FROM_RED: usize = 0;
/** vector */
export const OFFSET_FROM_GREEN: usize = 16;
/** vector */
export const OFFSET_FROM_BLUE: usize = 32;
/** vector */
export const OFFSET_OFFSET: usize = 48;
/** row, other, third */
export const LANES_RED: usize = 0;
/** row, other, third */
export const LANES_GREEN: usize = 4;
/** row, other, third */
export const LANES_BLUE: usize = 8;
/** ratio */
export const UNSHARP_AMOUNT: usize = 0;
/** ratio */
export const UNSHARP_LIMIT: usize = 4;
/** add, lighten, soft, overlay, dodge, screen, multiply, over */
export const LAYER_MODE: usize = 0;
/** ratio */
export const LAYER_AMOUNT: usize = 4;
/** ratio */
export const LAYER_LEVEL: usize = 8;
/** number */
export const LAYER_GAMMA: usize = 12;
/** light */
export const LAYER_HOLD: usize = 16;
/** ratio */
export const LAYER_DITHER: usize = 20;
/** seed */
export const LAYER_SEED: usize = 24;
/** light */
export const LAYER_NEUTRAL: usize = 28;
/** vector */
export const BALANCE_LUMINANCE: usize = 0;
/** vector */
export const BALANCE_SHADOWS: usize = 16;
/** vector */
export const BALANCE_MIDDLES: usize = 32;
/** vector */
export const BALANCE_HIGHLIGHTS: usize = 48;
/** ratio */
export const BALANCE_VIBRANCE: usize = 64;
/** union, intersection, difference */
export const SHAPE_MATTE_COMBINE: usize = 0;
/** flag */
export const SHAPE_MATTE_INVERTED: usize = 4;
/** ratio */
export const SHAPE_MATTE_STRENGTH: usize = 8;
/** px */
export const SHAPE_MATTE_CENTRE_X: usize = 12;
/** px */
export const SHAPE_MATTE_CENTRE_Y: usize = 16;
/** 1/px */
export const SHAPE_MATTE_ACROSS_X: usize = 20;
/** 1/px */
export const SHAPE_MATTE_ACROSS_Y: usize = 24;
/** 1/px */
export const SHAPE_MATTE_DOWN_X: usize = 28;
/** 1/px */
export const SHAPE_MATTE_DOWN_Y: usize = 32;
/** number */
export const SHAPE_MATTE_POWER: usize = 36;
/** ratio */
export const SHAPE_MATTE_OUTER: usize = 40;
/** union, intersection, difference */
export const POLYGON_MATTE_COMBINE: usize = 0;
/** flag */
export const POLYGON_MATTE_INVERTED: usize = 4;
/** ratio */
export const POLYGON_MATTE_STRENGTH: usize = 8;
/** count */
export const POLYGON_MATTE_COUNT: usize = 12;
/** px */
export const POLYGON_MATTE_ROUNDING: usize = 16;
/** px */
export const POLYGON_MATTE_SOFT: usize = 20;
/** table */
export const POLYGON_MATTE_POINTS: usize = 24;
/** union, intersection, difference */
export const KEY_MATTE_COMBINE: usize = 0;
/** flag */
export const KEY_MATTE_INVERTED: usize = 4;
/** ratio */
export const KEY_MATTE_STRENGTH: usize = 8;
/** flag */
export const KEY_MATTE_COLOURED: usize = 12;
/** vector */
export const KEY_MATTE_LUMINANCE: usize = 16;
/** stops */
export const KEY_MATTE_LOW: usize = 32;
/** stops */
export const KEY_MATTE_HIGH: usize = 36;
/** stops */
export const KEY_MATTE_SOFT: usize = 40;
/** ratio */
export const KEY_MATTE_RED_SHARE: usize = 44;
/** ratio */
export const KEY_MATTE_BLUE_SHARE: usize = 48;
/** ratio */
export const KEY_MATTE_WIDTH: usize = 52;
/** ratio */
export const KEY_MATTE_COLOUR_SOFT: usize = 56;
/** ratio */
export const KEY_MATTE_BLACK: usize = 60;
/** ratio */
export const KEY_MATTE_WHITE: usize = 64;
/** union, intersection, difference */
export const DEPTH_MATTE_COMBINE: usize = 0;
/** flag */
export const DEPTH_MATTE_INVERTED: usize = 4;
/** ratio */
export const DEPTH_MATTE_STRENGTH: usize = 8;
/** m */
export const DEPTH_MATTE_NEAR: usize = 12;
/** m */
export const DEPTH_MATTE_FAR: usize = 16;
/** ratio */
export const DEPTH_MATTE_SOFT: usize = 20;
/** union, intersection, difference */
export const JOIN_MATTE_COMBINE: usize = 0;
/** flag */
export const JOIN_MATTE_INVERTED: usize = 4;
/** ratio */
export const JOIN_MATTE_STRENGTH: usize = 8;
/** ratio */
export const OVERLAY_AMOUNT: usize = 0;
/** triple */
export const TAKE_WEIGHTS: usize = 0;
/** sum, maximum, each */
export const TAKE_JUDGED: usize = 12;
/** light */
export const TAKE_LOW: usize = 16;
/** light */
export const TAKE_HIGH: usize = 20;
/** light */
export const TAKE_MIDDLE: usize = 24;
/** light */
export const TAKE_LIMIT: usize = 28;
/** vector */
export const HUES_LUMINANCE: usize = 0;
/** number */
export const HUES_QUARTER: usize = 16;
/** table */
export const HUES_TABLE: usize = 20;
/** ratio */
export const LEAST_AMOUNT: usize = 0;
