/** Pixels of the tracks. */

export const LEFT = 84;
export const RIGHT = 26;
export const SCRIPT_Y = 46;
export const FIRST_LANE_Y = 116;
export const THIN = 20;
/** From a bar to the first row of its names, and from that to the second. */
export const ROW = 12;
export const LANE = 46;
export const CHARACTER = 6.4;
export const LEAST_BAR = 9;
