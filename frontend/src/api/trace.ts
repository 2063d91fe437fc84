/** A trace and a result, as the interface's document defines them. */

import type { components } from "./schema";

type Shapes = components["schemas"];
export type Trace = Shapes["Trace"];
export type TraceEvent = Trace["events"][number];
export type CallEvent = Shapes["CallEvent"];
export type ModelEvent = Shapes["ModelEvent"];
export type CallError = Shapes["CallError"];
export type AskEvent = Shapes["AskEvent"];
export type QuestionEvent = Shapes["QuestionEvent"];
export type TurnEvent = Shapes["TurnEvent"];
export type Check = Shapes["Check"];
export type Proposal = Shapes["Proposal"];
export type Result = NonNullable<Shapes["TrialShape"]["result"]>;
export type NewEvents = Shapes["NewEvents"];
export type TrialView = Shapes["TrialShape"];

export const callsOf = (trace: Trace) => trace.events.filter((e) => e.kind === "call");
export const modelRequestsOf = (trace: Trace) => trace.events.filter((e) => e.kind === "model");

/** The request to the model that proposed a call. */
export function proposerOf(trace: Trace, call: CallEvent): ModelEvent | undefined {
  return modelRequestsOf(trace).find((e) => e.proposed?.some((p) => p.id === call.proposal));
}

/** Whether more than one voice of an agent asks models. */
export const hasVoices = (trace: Trace) => Object.keys(trace.voices ?? {}).length > 1;

/** Whether a tool is only the framework's way to reply. */
export function isReplyTool(trace: Trace, tool: string | undefined): boolean {
  return (trace.reply_tools ?? []).includes((tool ?? "/").replace(/^own\//, ""));
}
