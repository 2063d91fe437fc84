/** A trial's time on the drawing: scales, spans, and places that keep an order. */

import { scaleLinear } from "d3-scale";
import type { TraceEvent } from "../api/trace";

export type Scale = "time" | "steps";

/** When an event ended; one that never did lasts to the end of the trial. */
export function end(event: TraceEvent, last: number): number {
  const s = lasted(event);
  return s === null ? last : event.t + s;
}

/** Seconds that an event lasted; null if it lasts still, or is of no length. */
function lasted(event: TraceEvent): number | null {
  return "s" in event ? (event.s ?? null) : null;
}

/** Positions as near as can be to those wanted, in the same order and a gap apart. */
export function spread(wanted: number[], gap: number[], low: number, high: number): number[] {
  // Isotonic regression by pooling neighbours that violate the order, gaps taken out first.
  const offset = [0];
  for (let i = 1; i < wanted.length; i++) offset.push((offset[i - 1] ?? 0) + (gap[i] ?? 0));
  const pools: { sum: number; n: number }[] = [];
  wanted.forEach((w, i) => {
    pools.push({ sum: w - (offset[i] ?? 0), n: 1 });
    for (;;) {
      const last = pools.at(-1);
      const before = pools.at(-2);
      if (!last || !before || before.sum / before.n <= last.sum / last.n) break;
      pools.splice(-2, 2, { sum: before.sum + last.sum, n: before.n + last.n });
    }
  });
  const room = high - (offset.at(-1) ?? 0);
  const flat = pools.flatMap((p) => Array<number>(p.n).fill(p.sum / p.n));
  return flat.map((x, i) => Math.min(Math.max(x, low), Math.max(low, room)) + (offset[i] ?? 0));
}

/** A stretch of time that is drawn shorter than it was: nobody but a person waited in it. */
export interface Gap {
  from: number;
  to: number;
  what: string;
}

const LEAST_GAP = 1;
const GAP_SHARE = 0.2;
/** Pixels of a stretch that is drawn shorter. */
export const GAP_WIDTH = 26;

/** When the conversation began: the first turn, else the first event. */
export function beginning(events: TraceEvent[]): number {
  return events.find((e) => e.kind === "turn")?.t ?? events[0]?.t ?? 0;
}

/** The long waits before the start and by hand: between turns, and while a call was held. */
export function gapsOf(events: TraceEvent[], last: number): Gap[] {
  const waits: Gap[] = [];
  const begin = beginning(events);
  const early = events.filter((e) => e.t < begin && e.kind !== "end");
  if (early.length) {
    const done = Math.min(begin, Math.max(...early.map((e) => end(e, begin))));
    waits.push({ from: done, to: begin, what: "before the user’s first words" });
  }
  let replied: number | null = null;
  for (const event of events) {
    if (event.kind === "reply") replied = event.t;
    if ((event.kind === "turn" || event.kind === "end") && replied !== null) {
      waits.push({ from: replied, to: event.t, what: "between turns" });
      replied = null;
    }
    if (event.kind === "hold" || event.kind === "ask")
      waits.push({ from: event.t, to: end(event, last), what: "decided by hand" });
  }
  const long = waits
    .filter((w) => w.to - w.from > LEAST_GAP)
    .sort((a, b) => a.from - b.from)
    .filter((w, i, all) => i === 0 || w.from >= (all[i - 1]?.to ?? 0));
  const start = Math.min(begin, ...early.map((e) => e.t));
  const busy = last - start - long.reduce((sum, w) => sum + w.to - w.from, 0);
  return long.filter((w) => w.to - w.from > GAP_SHARE * busy);
}

/** Seconds → pixels within a range: to scale but for the gaps, or in equal steps from event to
 * event. */
export function timeScale(
  events: TraceEvent[],
  last: number,
  range: [number, number],
  scale: Scale,
) {
  if (scale === "time") {
    const start = Math.min(beginning(events), ...events.map((e) => e.t));
    const gaps = gapsOf(events, last);
    const busy = last - start - gaps.reduce((sum, gap) => sum + gap.to - gap.from, 0);
    const perSecond = (range[1] - range[0] - gaps.length * GAP_WIDTH) / (busy || 1);
    const domain = [start];
    const places = [range[0]];
    for (const gap of gaps) {
      const before = (places.at(-1) ?? 0) + (gap.from - (domain.at(-1) ?? 0)) * perSecond;
      domain.push(gap.from, gap.to);
      places.push(before, before + GAP_WIDTH);
    }
    domain.push(Math.max(last, (domain.at(-1) ?? 0) + 1e-6));
    places.push(range[1]);
    return scaleLinear().domain(domain).range(places);
  }
  const moments = new Set<number>([beginning(events), last]);
  for (const event of events) {
    if (event.kind === "end") continue;
    moments.add(event.t);
    if (lasted(event)) moments.add(end(event, last));
  }
  const sorted = [...moments].sort((a, b) => a - b);
  const step = (range[1] - range[0]) / Math.max(1, sorted.length - 1);
  return scaleLinear()
    .domain(sorted)
    .range(sorted.map((_, i) => range[0] + i * step));
}

/** Whether an event is a call that went out. */
const isDispatched = (event: TraceEvent) => event.kind === "call" && event.seam !== "model";

/** Time of a turn in which neither model nor tool was busy: the agent's own. */
export function ownTime(events: TraceEvent[], last: number): [number, number][] {
  const busy = events
    .filter((e) => ["model", "ask", "hold"].includes(e.kind) || isDispatched(e))
    .map((e): [number, number] => [e.t, end(e, last)])
    .sort((a, b) => a[0] - b[0]);
  const own: [number, number][] = [];
  for (const [start, stop] of turnsOf(events, last)) {
    let at = start;
    for (const [from, to] of busy) {
      if (to <= at || from >= stop) continue;
      if (from > at) own.push([at, from]);
      at = Math.max(at, to);
    }
    if (at < stop) own.push([at, stop]);
  }
  return own;
}

/** Start and end of each turn. */
export function turnsOf(events: TraceEvent[], last: number): [number, number][] {
  const turns: [number, number][] = [];
  for (const event of events) {
    const open = turns.at(-1);
    if (event.kind === "turn") turns.push([event.t, last]);
    else if (event.kind === "reply" && open) open[1] = event.t;
  }
  return turns;
}
