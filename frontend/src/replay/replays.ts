/** Replays as the screens tell them. */

import { api, ask } from "../api/client";
import type { components } from "../api/schema";

export type Replay = components["schemas"]["ReplayShape"];
export type Replayed = components["schemas"]["ReplayedShape"];

/** How often a replay that goes on is looked at. */
const LOOK_MS = 700;

/** Looks at a replay as long as it goes on; the returned function ends that before. */
export function followReplay(replay: number, change: (now: Replay) => void): () => void {
  const params = { path: { replay } };
  const look = async () => change(await ask(api.GET("/api/replays/{replay}", { params })));
  const looking = setInterval(() => void look(), LOOK_MS);
  return () => clearInterval(looking);
}

export const isGoing = (replay: Replay | null | undefined) => replay?.state === "running";

/** How a verdict looks. */
export const VERDICT_LOOK: Record<string, string> = {
  same: "text-holds",
  "other words": "text-doubt",
  parted: "text-broke",
  "not replayed": "text-soft",
};
