/** What user and agent say, below the lanes, as far as there is room for it. */

import type { TraceEvent } from "../api/trace";
import { CHARACTER, LEFT } from "./measures";

export interface Words {
  x: number;
  y: number;
  width: number;
  text: string;
  full: string;
  user: boolean;
  end: boolean;
}

/** Characters of words that are worth showing; less than that is only a sign that somebody spoke. */
const LEAST_WORDS = 5;
/** Pixels of such a sign. */
const SIGN = 8;

function cut(text: string, room: number): string {
  const most = Math.max(3, Math.floor(room / CHARACTER));
  const flat = text.replace(/\s+/g, " ").trim();
  return flat.length <= most ? flat : `${flat.slice(0, most - 1)}…`;
}

export function wordsOf(
  events: TraceEvent[],
  x: (t: number) => number,
  y: number,
  width: number,
): Words[] {
  const said = events.filter((e) => e.kind === "turn" || e.kind === "reply");
  const turns = said.filter((e) => e.kind === "turn");
  let turn = -1;
  return said.map((event) => {
    const user = event.kind === "turn";
    if (user) turn += 1;
    const at = x(event.t);
    // The user's words stand until the next turn, the agent's back to the turn they answer.
    const next = user ? turns[turn + 1] : undefined;
    const before = user ? undefined : turns[turn];
    const room = user ? (next ? x(next.t) : width) - at - 10 : at - (before ? x(before.t) : LEFT);
    const fits = room - 12 > LEAST_WORDS * CHARACTER;
    const from = user ? at + 4 : at - 4;
    return {
      x: user ? from : from - (fits ? room - 12 : SIGN),
      width: fits ? room - 12 : SIGN,
      y: y + (user ? 0 : 15),
      text: fits ? `“${cut(event.text ?? "", room - 12)}”` : user ? "“" : "”",
      full: event.text ?? "",
      user,
      end: !user,
    };
  });
}
