/** Light of mid-grey, from which stops are counted. */
export const MID_GREY = 0.18;

/** Light at stops from mid-grey. */
export const lightAt = (stops: number): number => MID_GREY * 2 ** stops;

/** Stops of a light above 0 from mid-grey. */
export const stopsOf = (light: number): number => Math.log2(light / MID_GREY);
