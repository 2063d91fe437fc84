/** Labels that never overlap: one that would run into the one before it is left out. */

import { CHARACTER } from "./measures";

export interface Label {
  x: number;
  text: string;
}

/** The labels for which there is room, from left to right. `middle`: they are centred on `x`. */
export function roomFor<Placed extends Label>(labels: Placed[], middle = false): Placed[] {
  let taken = -Infinity;
  return labels.filter(({ x, text }) => {
    const width = text.length * CHARACTER + 4;
    const from = middle ? x - width / 2 : x;
    if (!text || from < taken) return false;
    taken = from + width;
    return true;
  });
}
