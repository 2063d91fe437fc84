/** Where two trials of a task part for the first time, and in which words. */

import { callsOf, modelRequestsOf, type Trace, type TraceEvent } from "../api/trace";
import { shortTool } from "../values/text";

/** One thing that an agent did, or that came back. */
interface Step {
  kind: "proposal" | "answer" | "reply";
  t: number;
  tool: string;
  /** What it is compared by. */
  body: string;
  args: Record<string, unknown>;
}

export interface Parting {
  /** When it was in each trial, in seconds; null: the trial had ended. */
  a: number | null;
  b: number | null;
  words: string;
}

/** Objects with their keys in order, so that only what differs differs. */
function ordered(value: unknown): string {
  return JSON.stringify(value, (_, part: unknown) =>
    part && typeof part === "object" && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([one], [other]) => (one < other ? -1 : 1)))
      : part,
  );
}

/** What was proposed, answered and replied, in order; without the model's traffic, what was called. */
function stepsOf(trace: Trace): Step[] {
  const asked = modelRequestsOf(trace).flatMap((event) =>
    (event.proposed ?? []).map((p) => ({
      t: event.t + (event.s ?? 0),
      tool: p.tool,
      args: p.args,
    })),
  );
  const calls = callsOf(trace);
  const proposals = trace.model_seam ? asked : calls;
  const steps: Step[] = proposals.map(({ t, tool, args }) => ({
    kind: "proposal",
    t,
    tool,
    body: ordered(args ?? {}),
    args: (args ?? {}) as Record<string, unknown>,
  }));
  for (const call of calls)
    if (call.s !== null)
      steps.push({
        kind: "answer",
        t: call.t + (call.s ?? 0),
        tool: call.tool,
        body: ordered(call.error ? { error: call.error.message } : (call.result ?? null)),
        args: {},
      });
  for (const event of trace.events)
    if (isReply(event))
      steps.push({ kind: "reply", t: event.t, tool: "", body: event.text ?? "", args: {} });
  return steps.sort((one, other) => one.t - other.t);
}

const isReply = (event: TraceEvent) => event.kind === "reply";

const ORDINALS = ["first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth"];
const nth = (n: number) => ORDINALS[n - 1] ?? `${n}th`;

/** The arguments that differ, as `name: value`. */
function differing(args: Record<string, unknown>, other: Record<string, unknown>): string {
  const names = Object.keys({ ...args, ...other }).filter(
    (name) => ordered(args[name]) !== ordered(other[name]),
  );
  const shown = names.map((name) =>
    name in args ? `${name} ${JSON.stringify(args[name])}` : `no ${name}`,
  );
  return shown.join(", ").slice(0, 120);
}

function did(step: Step | undefined): string {
  if (!step) return "had ended";
  if (step.kind === "reply") return "answered in words";
  if (step.kind === "answer") return `heard from ${shortTool(step.tool)}`;
  return `asked ${shortTool(step.tool)}`;
}

/** The first place at which two trials of a task differ in what was done or answered. */
export function partingOf(a: Trace, b: Trace): Parting {
  const [mine, theirs] = [stepsOf(a), stepsOf(b)];
  const most = Math.max(mine.length, theirs.length);
  let proposals = 0;
  for (let i = 0; i < most; i += 1) {
    const [one, other] = [mine[i], theirs[i]];
    const alike = one && other && one.kind === other.kind && one.tool === other.tool;
    if (alike && one.kind === "proposal") proposals += 1;
    if (alike && one.body === other.body) continue;
    const at = { a: one?.t ?? null, b: other?.t ?? null };
    if (alike && one.kind === "reply")
      return { ...at, words: "the same calls and answers; only the words of a reply differ" };
    if (alike && one.kind === "answer")
      return {
        ...at,
        words: `the same until ${shortTool(one.tool)} answered: it gave each something else`,
      };
    if (alike)
      return {
        ...at,
        words:
          `the same until the ${nth(proposals)} proposal; then both asked ${shortTool(one.tool)}, ` +
          `A with ${differing(one.args, other.args)}, B with ${differing(other.args, one.args)}`,
      };
    const isProposal = one?.kind === "proposal" || other?.kind === "proposal";
    const until = !proposals
      ? "they part at the first step"
      : isProposal
        ? `the same until the ${nth(proposals + 1)} proposal`
        : `the same until after the ${nth(proposals)} proposal`;
    const then = proposals ? "; then" : ":";
    return { ...at, words: `${until}${then} A ${did(one)}, B ${did(other)}` };
  }
  return { a: null, b: null, words: "the same throughout" };
}
