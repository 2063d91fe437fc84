/** A trial's time on the drawing: scales, spans, and places that keep an order. */

import { scaleLinear } from "d3-scale";
import type { TraceEvent } from "../api/trace";

export type Scale = "time" | "steps";

/** When an event ended; one that never did lasts to the end of the trial. */
export const end = (event: TraceEvent, last: number) =>
  event.s === null || event.s === undefined ? last : event.t + event.s;

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

/** Seconds → pixels within a range: to scale, or in equal steps from event to event. */
export function timeScale(
  events: TraceEvent[],
  last: number,
  range: [number, number],
  scale: Scale,
) {
  if (scale === "time")
    return scaleLinear()
      .domain([0, last || 1])
      .range(range);
  const moments = new Set<number>([0, last]);
  for (const event of events) {
    if (event.kind === "end") continue;
    moments.add(event.t);
    if (event.s) moments.add(end(event, last));
  }
  const sorted = [...moments].sort((a, b) => a - b);
  const step = (range[1] - range[0]) / Math.max(1, sorted.length - 1);
  return scaleLinear()
    .domain(sorted)
    .range(sorted.map((_, i) => range[0] + i * step));
}

/** Time of a turn in which neither model nor tool was busy: the agent's own. */
export function ownTime(events: TraceEvent[], last: number): [number, number][] {
  const busy = events
    .filter((e) => ["model", "call", "ask", "hold"].includes(e.kind) && e.seam !== "model")
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
