/** The open form of a trace and a result, as formats of Ferox define them. */

import type {
  Agent,
  Expected,
  Remark,
  ReplyValue,
  ResultLine,
  Run,
  Setup,
  TrialLine,
} from "./client";

export type Json = null | boolean | number | string | Json[] | { [key: string]: Json };

export interface CallError {
  kind: string;
  message: string;
}

export interface Proposal {
  id: string;
  tool: string;
  args: Json;
}

export interface TraceEvent {
  t: number;
  kind:
    "turn" | "model" | "call" | "ask" | "hold" | "question" | "embed" | "partial" | "reply" | "end";
  id?: string;
  s?: number | null;
  text?: string | null;
  rule?: number | null;
  part?: number;
  offered?: string[];
  proposed?: Proposal[];
  usage?: { input: number; output: number } | null;
  seam?: "tool" | "local" | "model";
  tool?: string;
  args?: Json;
  result?: Json;
  error?: CallError | null;
  fault?: string | null;
  proposal?: string | null;
  decision?: "approve" | "deny";
  edited?: Json;
  data?: Json;
  why?: string;
  reason?: string | null;
  nearest?: boolean;
  sent?: Json;
  voice?: string;
  by?: string | null;
  did?: string;
  by_hand?: string;
  call?: string | null;
  waited_s?: number;
  hides?: string;
  content?: Record<string, Json>[];
  of?: string;
}

export interface Trace {
  tools?: Record<string, { input?: Json; description?: string | null; name?: string }>;
  modes?: Record<string, string>;
  truth?: Record<string, { result: Json; error?: CallError | null }>;
  events: TraceEvent[];
  state?: Record<string, Json>;
  instructions?: string;
  model_seam?: boolean;
  reply_tools?: string[];
  own_seen?: boolean;
  voices?: Record<string, { instructions: string; tools: string[] }>;
  seen_by_model?: Record<string, { input?: Json; description?: string | null; name?: string }>;
}

export interface Check {
  family: string;
  id: string;
  passed: boolean | null;
  message: string;
  calls: string[];
  part?: number;
}

export interface Result {
  verdict: "pass" | "fail" | "error";
  judged?: boolean;
  went_wrong?: { message: string; call: string | null; expected: string | null } | null;
  reason: string | null;
  scores: Record<string, number | null>;
  alternatives?: (number | null)[];
  checks: Check[];
  matched: Record<string, string[]>;
  attempts: Record<string, string[]>;
  extra: string[];
  missing: { name: string; why: string }[];
  latency: {
    turn_ms: (number | null)[];
    model_ms: number | null;
    tool_ms: number;
    ask_ms: number;
    agent_ms: number;
  };
  tokens: { input: number; output: number } | null;
}

/** Whether a tool is only the framework's way to reply. */
export function isReplyTool(trace: Trace, tool: string | undefined): boolean {
  return (trace.reply_tools ?? []).includes((tool ?? "/").replace(/^own\//, ""));
}

export interface TrialView {
  trial: TrialLine;
  title: string | null;
  agent: Agent;
  run: Run;
  trace: Trace;
  result: Result | null;
  expected: Expected[];
  order: string[][];
  remarks: Remark[];
  says: string[];
  ways: number[];
  rules: { matches: string; grants: string | null }[][];
  values: Record<number, ReplyValue[]>;
  /** The places of events that are too long to be sent whole. */
  long: number[];
  planted: Record<string, string>;
  injected: Record<string, string>;
  setup: Setup;
  mentions: { source: string; path: string; check: string }[];
  results: ResultLine[];
  shown: number | null;
  script: { hash: string; task: Json; before: Json };
  mark: { mark: string | null; note: string; at: number } | null;
  near: Record<"previous" | "next" | "previous_failure" | "next_failure", number | null>;
}
