/** A place in a trial from which forks can begin, and what can be otherwise there. */

import type { components } from "../api/schema";
import type { CallEvent, ModelEvent, TrialView, TurnEvent } from "../api/trace";
import { shortTool } from "../values/text";

export type AnyChange = components["schemas"]["ForkChange"];
/** One change: what it does not name stays as it was. */
export type Change = Partial<Omit<AnyChange, "fault">> & { fault?: { do: Fault; text?: string } };
export type Forks = components["schemas"]["ForkedTrialsShape"];

export interface Point {
  /** The event's id, or `t2` for the user's second words. */
  at: string;
  kind: "call" | "model" | "turn";
  event: CallEvent | ModelEvent | TurnEvent;
  /** In words: *call c3, book_berth*. */
  words: string;
}

/** The point of this name; null where none can begin. */
export function pointOf(view: TrialView, at: string | null): Point | null {
  if (at === null || !canFork(view)) return null;
  const turn = /^t(\d+)$/.exec(at);
  if (turn) {
    const event = view.trace.events.filter((e) => e.kind === "turn")[Number(turn[1]) - 1];
    return event ? { at, kind: "turn", event, words: `turn ${turn[1]}` } : null;
  }
  const event = view.trace.events.find(
    (e) => (e.kind === "call" || e.kind === "model") && e.id === at,
  ) as CallEvent | ModelEvent | undefined;
  if (event?.kind === "model") {
    return { at, kind: "model", event, words: `request ${at} to the model` };
  }
  if (event?.seam !== "tool" || event.error?.kind === "denied") return null;
  return { at, kind: "call", event, words: `call ${at}, ${shortTool(event.tool)}` };
}

/** Whether a trial is one that can be gone on from: finished, by a script, and no fork itself. */
export function canFork(view: TrialView): boolean {
  return (
    view.result !== null &&
    view.trial.state === "done" &&
    view.trace.fork === undefined &&
    !view.trace.not_seen?.length &&
    view.run.origin === null
  );
}

/** What becomes of the servers from a point on, by how they were had. */
export function serversFrom(view: TrialView, point: Point): string[] {
  const before = view.trace.events.slice(0, view.trace.events.indexOf(point.event));
  return Object.entries(view.trace.modes ?? {}).map(([server, mode]) => {
    const called = before.filter(
      (e) => e.kind === "call" && e.tool.split("/")[0] === server,
    ).length;
    if (mode === "mock") return `${server} (mock) is brought to the state that it had`;
    if (!called) return `${server} (${mode}) was not called before`;
    const calls = called === 1 ? "the call before is" : `the ${called} calls before are`;
    return `${server} (${mode}) goes on as it is: ${calls} not made again`;
  });
}

/** Faults that can strike a call, or a request to a model, at a point. */
export const FAULTS = {
  call: [
    "timeout",
    "tool_error",
    "protocol_error",
    "status",
    "drop",
    "garbled",
    "wrong_shape",
    "empty",
    "slow",
    "lost_session",
    "planted_text",
  ],
  model: [
    "model_status",
    "model_slow",
    "model_bad_arguments",
    "model_unknown_tool",
    "model_cut_off",
  ],
} as const;

export type Fault = (typeof FAULTS)["call" | "model"][number];

/** What can be otherwise at each kind of point: the field of a change, and its name. */
export const WAYS = {
  call: [
    ["nothing", "nothing: was it luck?"],
    ["answer", "its answer"],
    ["error", "an error in place of its answer"],
    ["fault", "a fault strikes it"],
    ["model", "another model from here on"],
    ["without", "a tool that models are no longer shown"],
    ["wording", "the description of a tool"],
  ],
  model: [
    ["nothing", "nothing: was it luck?"],
    ["say", "what the model says"],
    ["call", "the call that it proposes"],
    ["fault", "a fault strikes it"],
    ["model", "another model from here on"],
    ["without", "a tool that models are no longer shown"],
    ["wording", "the description of a tool"],
  ],
  turn: [
    ["nothing", "nothing: was it luck?"],
    ["say", "what the user says"],
    ["model", "another model from here on"],
    ["without", "a tool that models are no longer shown"],
    ["wording", "the description of a tool"],
  ],
} as const;

export type Way = (typeof WAYS)["call" | "model" | "turn"][number][0];
