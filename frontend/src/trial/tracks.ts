/**
 * Where everything of a trial's two tracks stands.
 *
 * The script's expected calls are on the upper track in the script's order, each as near
 * above the call that answers it as that order allows; so a join that crosses another
 * is out of order. The lower track is to scale in time, or in equal steps.
 */

import { scaleLinear } from "d3-scale";
import type { Expected } from "../api/client";
import {
  type CallEvent,
  callsOf,
  isReplyTool,
  type Result,
  type TraceEvent,
  type TrialView,
} from "../api/trace";
import { beginning, end, gapsOf, ownTime, type Scale, spread, timeScale, turnsOf } from "./time";
import { CHARACTER, FIRST_LANE_Y, LANE, LEAST_BAR, LEFT, RIGHT, SCRIPT_Y, THIN } from "./measures";
import {
  asksOf,
  lostOf,
  partsOf,
  recoveriesOf,
  type Ask,
  type Lost,
  type PartSign,
  type Recovery,
} from "./signs";
import { duration, serverOf, shortTool } from "../values/text";

export interface Span {
  x: number;
  width: number;
  y: number;
  title: string;
}

export interface Bar extends Span {
  event: CallEvent;
  id: string;
  label: string;
  labelY: number;
  colour: string;
  role: "matched" | "attempt" | "extra" | "denied" | "other";
  badArguments: boolean;
  failed: boolean;
  injected: boolean;
}

export interface ModelBar extends Span {
  id: string;
  voice: string | undefined;
  injected: boolean;
}

/** A stretch of the axis that is not to scale. */
export interface Break {
  x: number;
  width: number;
  title: string;
}

export interface Node {
  expected: Expected;
  x: number;
  label: string;
  state: "matched" | "missing" | "optional" | "open";
  why: string | null;
}

export interface Join {
  path: string;
  kind: "matched" | "attempt";
  tone: "holds" | "doubt" | "broke";
  crossed: { x: number; y: number } | null;
  name: string;
  call: string;
}

export interface Lane {
  name: string;
  y: number;
  colour: string | null;
}

export interface Words {
  x: number;
  y: number;
  text: string;
  full: string;
  user: boolean;
  end: boolean;
}

export interface Tracks {
  width: number;
  height: number;
  lanes: Lane[];
  nodes: Node[];
  arcs: string[];
  bars: Bar[];
  joins: Join[];
  model: ModelBar[];
  held: Span[];
  asks: Ask[];
  recoveries: Recovery[];
  planted: { x: number; y: number; title: string }[];
  parts: PartSign[];
  own: Span[];
  lost: Lost[];
  words: Words[];
  bounds: number[];
  breaks: Break[];
  ticks: { x: number; text: string }[];
  axisY: number;
}

function cut(text: string, room: number): string {
  const most = Math.max(3, Math.floor(room / CHARACTER));
  const flat = text.replace(/\s+/g, " ").trim();
  return flat.length <= most ? flat : `${flat.slice(0, most - 1)}…`;
}

/** The agent's calls that have a place on a lane. */
function drawnCalls(view: TrialView): CallEvent[] {
  return callsOf(view.trace).filter((e) => e.seam !== "model" && !isReplyTool(view.trace, e.tool));
}

function lanesOf(view: TrialView): Lane[] {
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

function barsOf(
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
  const taken = new Map<string, number>();
  const named = new Map<number, string>();
  return drawnCalls(view).map((event) => {
    const tool = event.tool;
    const lane = lanes.find((l) => l.name === serverOf(tool));
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
      labelY: y + (low ? 28 : 18),
      colour: lane?.colour ?? "var(--soft)",
      role: denied ? "denied" : (role.get(id) ?? "other"),
      badArguments: wrong.has(id),
      failed,
      injected: view.injected[id] !== undefined,
      title: `${tool}${event.error ? `: ${event.error.message}` : ""}${
        view.injected[id] ? ` (${view.injected[id]})` : ""
      }`,
    };
  });
}

/**
 * The expected calls in the order in which they are drawn: as near to the order of the calls that
 * answer them as the chains allow. So a join crosses another only where an order was asked for.
 */
function drawnOrder(view: TrialView, wanted: number[]): number[] {
  const place = new Map(view.expected.map((e, i) => [e.name, i]));
  const before = view.expected.map(() => new Set<number>());
  for (const chain of view.order)
    chain.forEach((name, i) => {
      const [from, to] = [place.get(chain[i - 1] ?? ""), place.get(name)];
      if (from !== undefined && to !== undefined) before[to]?.add(from);
    });
  view.expected.forEach((e, i) =>
    view.expected.forEach((other, k) => {
      if (other.part < e.part) before[i]?.add(k);
    }),
  );
  const order: number[] = [];
  const left = new Set(view.expected.keys());
  while (left.size) {
    const free = [...left].filter((i) => ![...(before[i] ?? [])].some((k) => left.has(k)));
    const from = free.length ? free : [...left];
    const next = from.reduce((a, b) => ((wanted[b] ?? 0) < (wanted[a] ?? 0) ? b : a));
    order.push(next);
    left.delete(next);
  }
  return order;
}

/** Half the room that an expected call's words take. */
function halfWidth(name: string, why: string | null): number {
  return Math.max(18, (Math.max(name.length, (why ?? "").length) * CHARACTER) / 2 + 6);
}

function nodesOf(view: TrialView, bars: Bar[], width: number): Node[] {
  const middle = (id: string) => {
    const bar = bars.find((b) => b.id === id);
    return bar ? bar.x + bar.width / 2 : undefined;
  };
  const missing = new Map((view.result?.missing ?? []).map((m) => [m.name, m.why]));
  const wanted = view.expected.map((e) => {
    const first = view.result?.matched[e.name]?.[0];
    return first ? middle(first) : undefined;
  });
  const filled = wanted.map((w, i) => {
    if (w !== undefined) return w;
    const before = wanted.slice(0, i).findLast((v) => v !== undefined) ?? LEFT;
    const after = wanted.slice(i).find((v) => v !== undefined) ?? width - RIGHT - 40;
    const from = wanted.slice(0, i).findLastIndex((v) => v !== undefined);
    const to = wanted.findIndex((v, k) => k > i && v !== undefined);
    const count = (to < 0 ? wanted.length : to) - from;
    return before + ((after - before) * (i - from)) / count;
  });
  const order = drawnOrder(view, filled);
  const drawn = order.flatMap((i) => view.expected[i] ?? []);
  const half = drawn.map((e) => halfWidth(e.name, missing.get(e.name) ?? null));
  const gaps = half.map((h, i) => h + (half[i - 1] ?? 0));
  const xs = spread(
    order.map((i) => filled[i] ?? LEFT),
    gaps,
    LEFT + (half[0] ?? 0) - 12,
    width - (half.at(-1) ?? 0) - 4,
  );
  return drawn.map((expected, i) => {
    const matched = view.result?.matched[expected.name];
    const state = !view.result
      ? "open"
      : matched?.length
        ? "matched"
        : missing.has(expected.name)
          ? "missing"
          : "optional";
    return {
      expected,
      x: xs[i] ?? LEFT,
      label: expected.name,
      state,
      why: missing.get(expected.name) ?? null,
    };
  });
}

function arcsOf(order: string[][], nodes: Node[]): string[] {
  const at = new Map(nodes.map((n) => [n.expected.name, n.x]));
  return order.flatMap((chain) =>
    chain.slice(1).flatMap((name, i) => {
      const from = at.get(chain[i] ?? "");
      const to = at.get(name);
      if (from === undefined || to === undefined) return [];
      const lift = Math.min(22, 6 + Math.abs(to - from) * 0.05);
      const y = SCRIPT_Y - 6;
      return [`M${from + 6} ${y}C${from + 20} ${y - lift} ${to - 20} ${y - lift} ${to - 6} ${y}`];
    }),
  );
}

/** Names of expected calls whose call came out of order; one that is missing crosses nothing. */
function outOfOrder(view: TrialView): Set<string> {
  const failed = new Set(
    (view.result?.checks ?? []).filter((c) => c.passed === false).map((c) => c.id),
  );
  const made = Object.keys(view.result?.matched ?? {});
  return new Set(
    view.expected
      .map((e) => e.name)
      .filter((name) => {
        const before = [`approval`, ...made, ...view.expected.map((e) => `grant:${e.after_grant}`)];
        return made.includes(name) && before.some((x) => failed.has(`order.${x}.${name}`));
      }),
  );
}

function joinsOf(view: TrialView, nodes: Node[], bars: Bar[]): Join[] {
  const result = view.result;
  if (!result) return [];
  const late = outOfOrder(view);
  const joins: Join[] = [];
  for (const node of nodes) {
    const name = node.expected.name;
    const ends = [
      ...(result.attempts[name] ?? []).map((id) => ({ id, kind: "attempt" as const })),
      ...(result.matched[name] ?? []).map((id) => ({ id, kind: "matched" as const })),
    ];
    for (const { id, kind } of ends) {
      const bar = bars.find((b) => b.id === id);
      if (!bar) continue;
      const x = bar.x + Math.min(bar.width / 2, 40);
      const [top, bottom] = [SCRIPT_Y + 8, bar.y - 8];
      const bend = (bottom - top) * 0.55;
      const crossed =
        kind === "matched" && late.has(name)
          ? { x: (node.x + x) / 2, y: (top + bottom) / 2 }
          : null;
      joins.push({
        path: `M${node.x} ${top}C${node.x} ${top + bend} ${x} ${bottom - bend} ${x} ${bottom}`,
        kind,
        tone: crossed ? "broke" : bar.badArguments ? "doubt" : "holds",
        crossed,
        name,
        call: id,
      });
    }
  }
  return joins;
}

function wordsOf(
  events: TraceEvent[],
  x: (t: number) => number,
  y: number,
  width: number,
): Words[] {
  const said = events.filter((e) => e.kind === "turn" || e.kind === "reply");
  return said.map((event, i) => {
    const user = event.kind === "turn";
    const at = x(event.t);
    // The user's words stand until the next turn, the agent's back to the turn they answer.
    const next = said.slice(i + 1).find((e) => e.kind === "turn");
    const before = said.slice(0, i).findLast((e) => e.kind === "turn");
    const room = user ? (next ? x(next.t) : width) - at - 10 : at - (before ? x(before.t) : LEFT);
    const fits = room - 12 > LEAST_WORDS * CHARACTER;
    return {
      x: at + (user ? 4 : -4),
      y: y + (user ? 0 : 15),
      text: fits ? `“${cut(event.text ?? "", room - 12)}”` : user ? "“" : "”",
      full: event.text ?? "",
      user,
      end: !user,
    };
  });
}

/** Characters of words that are worth showing; less than that is only a sign that somebody spoke. */
const LEAST_WORDS = 5;

/** The whole drawing, for a width in pixels. */
export function layOut(view: TrialView, room: number, scale: Scale): Tracks {
  const events = view.trace.events;
  const calls = events.filter((e) => e.kind === "call").length;
  const names = view.expected.reduce((sum, e) => sum + 2 * halfWidth(e.name, "not proposed"), 0);
  const turns = events.filter((e) => e.kind === "turn").length;
  const width = Math.max(
    room,
    LEFT + RIGHT + calls * (scale === "steps" ? 60 : 26),
    LEFT + RIGHT + names,
    LEFT + RIGHT + turns * 64,
  );
  const stopping = events.find((e) => e.kind === "end");
  const last = Math.max(0, ...events.map((e) => end(e, e.t)), stopping?.t ?? 0);
  const x = timeScale(events, last, [LEFT, width - RIGHT], scale);
  const lanes = lanesOf(view);
  const bars = barsOf(view, lanes, x, last, width);
  const nodes = nodesOf(view, bars, width);
  const below = (lanes.at(-1)?.y ?? FIRST_LANE_Y) + 46;
  const span = (from: number, to: number, y: number, title: string): Span => ({
    x: x(from),
    width: Math.max(1.5, x(to) - x(from)),
    y,
    title,
  });
  const ms = (seconds: number) => duration(seconds * 1000);
  const modelY = FIRST_LANE_Y + THIN;
  const several = Object.keys(view.trace.voices ?? {}).length > 1;
  let speaking: string | undefined;
  const model = events
    .filter((e) => e.kind === "model")
    .map((e) => {
      const proposed = e.proposed?.map((p) => shortTool(p.tool)).join(", ");
      const did = proposed ? `proposed ${proposed}` : "answered in words";
      const who = several ? `model as ${e.voice}` : "model";
      const struck = e.id ? view.injected[e.id] : undefined;
      const title = `${who}, ${ms(end(e, last) - e.t)}: ${did}${struck ? ` (${struck})` : ""}`;
      const voice = several && e.voice !== speaking ? e.voice : undefined;
      speaking = e.voice;
      const bar = span(e.t, end(e, last), modelY, title);
      return { ...bar, id: e.id ?? "", voice, injected: struck !== undefined };
    });
  const held = events
    .filter((e) => e.kind === "hold")
    .map((e) =>
      span(e.t, end(e, last), FIRST_LANE_Y, `${e.tool} held by hand, ${ms(end(e, last) - e.t)}`),
    );
  const own = ownTime(events, last).map(([from, to]) =>
    span(from, to, FIRST_LANE_Y, `the agent itself, ${ms(to - from)}`),
  );
  // The axis counts from the user's first words.
  const zero = beginning(events);
  const gaps = scale === "time" ? gapsOf(events, last) : [];
  const axis = scaleLinear().domain([0, Math.max(last - zero, 1e-3)]);
  const short = last - zero < 10;
  const ticks =
    scale === "time"
      ? axis
          .ticks(8)
          .filter((t) => !gaps.some((gap) => t + zero > gap.from && t + zero < gap.to))
          .map((t) => ({ x: x(t + zero), text: short ? ms(t) : `${t} s` }))
          .filter((tick, i, all) => i === 0 || tick.x - (all[i - 1]?.x ?? 0) > 44)
      : [];
  const breaks = gaps.map((gap) => ({
    x: x(gap.from),
    width: x(gap.to) - x(gap.from),
    title: `${ms(gap.to - gap.from)} ${gap.what}, not to scale`,
  }));
  return {
    width,
    height: below + 42,
    lanes,
    nodes,
    arcs: arcsOf(view.order, nodes),
    bars,
    joins: joinsOf(view, nodes, bars),
    model,
    held,
    asks: asksOf(view, x),
    recoveries: recoveriesOf(view, bars),
    planted: bars
      .filter((b) => view.planted[b.id] !== undefined)
      .map((b) => ({ x: b.x + 4, y: b.y - 7, title: `planted: ${view.planted[b.id]}` })),
    parts: partsOf(view, x),
    own,
    lost: lostOf(view, x, modelY),
    words: wordsOf(events, x, below, width),
    bounds: turnsOf(events, last).flatMap(([from, to]) => [x(from), x(to)]),
    breaks,
    ticks,
    axisY: below + 34,
  };
}
