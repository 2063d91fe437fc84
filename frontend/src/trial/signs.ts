/** Signs on the tracks besides calls: approvals, recoveries, and where parts begin. */

import { callsOf, isReplyTool, modelRequestsOf, type TrialView } from "../api/trace";
import { FIRST_LANE_Y } from "./measures";
import { roomFor, type Label } from "./labels";
import type { Bar } from "./lanes";
import type { Line } from "./script";

export interface Ask {
  x: number;
  y: number;
  denied: boolean;
  title: string;
}

export interface Recovery extends Line {
  title: string;
}

export interface Lost {
  x: number;
  y: number;
  id: string;
  title: string;
}

/** From a failed call to the one that made up for it, if that is no other attempt at the same. */
export function recoveriesOf(view: TrialView, bars: Bar[]): Recovery[] {
  return (view.result?.checks ?? []).flatMap((check) => {
    if (!/^failure\.c/.test(check.id) || !check.passed || check.calls.length !== 2) return [];
    const [from, to] = check.calls.map((id) => bars.find((b) => b.id === id));
    if (!from || !to) return [];
    const [x1, x2] = [from.x + from.width / 2, to.x + Math.min(6, to.width / 2)];
    const low = Math.max(from.y, to.y) + 24;
    const path = `M${x1} ${from.y + 8}C${x1} ${low} ${x2} ${low} ${x2} ${to.y + 8}`;
    return [{ path, x: Math.min(x1, x2), width: Math.abs(x2 - x1), title: check.message }];
  });
}

export function asksOf(view: TrialView, x: (t: number) => number): Ask[] {
  return view.trace.events
    .filter((e) => e.kind === "ask")
    .map((e) => ({
      x: x(e.t),
      y: FIRST_LANE_Y,
      denied: e.decision === "deny",
      title: `${e.tool}: ${e.decision === "deny" ? "denied" : e.edited ? "approved, edited" : "approved"}`,
    }));
}

/** Where each part after the first begins. */
export function partsOf(view: TrialView, x: (t: number) => number): Label[] {
  if (view.says.length < 2) return [];
  const parts = view.says.flatMap((_, n) => {
    const opening = view.trace.events.find((e) => e.kind === "turn" && (e.part ?? 0) === n);
    return opening ? [{ x: x(opening.t), text: `part ${n + 1}` }] : [];
  });
  return roomFor(parts);
}

/** Proposals that no call followed. */
export function lostOf(view: TrialView, x: (t: number) => number, y: number): Lost[] {
  const dispatched = new Set(callsOf(view.trace).map((e) => e.proposal));
  return modelRequestsOf(view.trace).flatMap((event) =>
    (event.proposed ?? [])
      .filter((p) => !dispatched.has(p.id) && view.result && !isReplyTool(view.trace, p.tool))
      .map((p) => ({
        x: x(event.t + (event.s ?? 0)),
        y,
        id: p.id,
        title: `${p.tool} was proposed and never dispatched`,
      })),
  );
}
