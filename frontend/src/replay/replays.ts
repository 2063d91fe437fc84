/** Replays as the screens tell them. */

import type { components } from "../api/schema";

export type Replay = components["schemas"]["ReplayShape"];
export type Replayed = components["schemas"]["ReplayedShape"];

/** How often a replay that goes on is looked at. */
export const LOOK_MS = 700;

export const isGoing = (replay: Replay | null | undefined) => replay?.state === "running";

/** How a verdict looks. */
export const VERDICT_LOOK: Record<string, string> = {
  same: "text-holds",
  "other words": "text-doubt",
  parted: "text-broke",
  "not replayed": "text-soft",
};
