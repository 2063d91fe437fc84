/** The lower track: a lane for the agent, its model and each server, and the calls on them. */

import { type CallEvent, callsOf, isReplyTool, type Result, type TrialView } from "../api/trace";
import { serverOf, shortTool } from "../values/text";
import { CHARACTER, FIRST_LANE_Y, LANE, LEAST_BAR, RIGHT, ROW, THIN } from "./measures";
import { end } from "./time";

export interface Lane {
  name: string;
  y: number;
  colour: string | null;
}

export interface Bar {
  x: number;
  width: number;
  y: number;
  title: string;
  event: CallEvent;
  id: string;
  label: string;
  labelX: number;
  labelY: number;
  colour: string;
  role: "matched" | "attempt" | "extra" | "denied" | "other";
  badArguments: boolean;
  failed: boolean;
  injected: boolean;
  /** Whether its answer was played back from a recording. */
  played: boolean;
}

/** The agent's calls that have a place on a lane. */
function drawnCalls(view: TrialView): CallEvent[] {
  return callsOf(view.trace).filter((e) => e.seam !== "model" && !isReplyTool(view.trace, e.tool));
}

export function lanesOf(view: TrialView): Lane[] {
  const named = [
    ...view.expected.map((e) => serverOf(e.tool)),
    ...drawnCalls(view).map((e) => serverOf(e.tool)),
  ];
  const servers = [...new Set(named)].filter(Boolean);
  const lanes: Lane[] = [
    { name: "agent", y: FIRST_LANE_Y, colour: null },
    { name: "model", y: FIRST_LANE_Y + THIN, colour: null },
  ];
  // A server keeps its colour in every trial that knows the same tools.
  const known = [...new Set(Object.keys(view.trace.tools ?? {}).map(serverOf))];
  const order = [...new Set([...known, ...servers])].sort();
  servers.sort((a, b) => order.indexOf(a) - order.indexOf(b));
  servers.forEach((name, i) =>
    lanes.push({
      name,
      y: FIRST_LANE_Y + 2 * THIN + 12 + i * LANE,
      colour: `var(--server-${order.indexOf(name) % 6})`,
    }),
  );
  return lanes;
}

function roles(result: Result | null): Map<string, Bar["role"]> {
  const map = new Map<string, Bar["role"]>();
  for (const id of result?.extra ?? []) map.set(id, "extra");
  for (const ids of Object.values(result?.attempts ?? {}))
    for (const id of ids) map.set(id, "attempt");
  for (const ids of Object.values(result?.matched ?? {}))
    for (const id of ids) map.set(id, "matched");
  return map;
}

export function barsOf(
  view: TrialView,
  lanes: Lane[],
  x: (t: number) => number,
  last: number,
  width: number,
): Bar[] {
  const role = roles(view.result);
  const wrong = new Set(
    (view.result?.checks ?? [])
      .filter((c) => c.family === "arguments" && c.passed === false)
      .flatMap((c) => c.calls),
  );
  const laneOf = new Map(lanes.map((lane) => [lane.name, lane]));
  const taken = new Map<string, number>();
  const named = new Map<number, string>();
  return drawnCalls(view).map((event) => {
    const tool = event.tool;
    const lane = laneOf.get(serverOf(tool));
    const y = lane?.y ?? FIRST_LANE_Y;
    const from = x(event.t);
    const to = Math.max(from + LEAST_BAR, x(end(event, last)));
    const id = event.id;
    const label = shortTool(tool);
    const labelled = Math.min(from, width - RIGHT - label.length * CHARACTER);
    // A label that would run into the one before it goes a row further down.
    const low = labelled < (taken.get(`${y}`) ?? 0);
    const key = low ? `${y}low` : `${y}`;
    // Neighbours of one tool need its name once.
    const again = low && named.get(y) === label;
    const crowded = again || labelled < (taken.get(key) ?? 0);
    if (!crowded) {
      taken.set(key, labelled + label.length * CHARACTER + 6);
      named.set(y, label);
    }
    const failed = Boolean(event.error) || (event.s === null && view.result !== null);
    const denied = event.error?.kind === "denied";
    return {
      event,
      id,
      x: from,
      width: to - from,
      y,
      label: crowded ? "" : label,
      labelX: labelled,
      labelY: y + ROW * (low ? 2 : 1) + 9,
      colour: lane?.colour ?? "var(--soft)",
      role: denied ? "denied" : (role.get(id) ?? "other"),
      badArguments: wrong.has(id),
      failed,
      injected: view.injected[id] !== undefined,
      played: isPlayed(view, event),
      title: titleOf(view, event),
    };
  });
}

function titleOf(view: TrialView, event: CallEvent): string {
  const error = event.error ? `: ${event.error.message}` : "";
  const injected = view.injected[event.id];
  const played = isPlayed(view, event) ? " (played back)" : "";
  return `${event.tool}${error}${injected ? ` (${injected})` : ""}${played}`;
}

/** Whether a call was answered from a recording, or belongs to a fork's past. */
const isPlayed = (view: TrialView, event: CallEvent) =>
  isPast(view, event.t) || view.trace.modes?.[serverOf(event.tool)] === "recorded";

/** Whether a moment lies in a fork's past, which was played back. */
export function isPast(view: TrialView, t: number): boolean {
  const { fork } = view.trace;
  return fork !== undefined && (fork.t === null || t < fork.t);
}
