/** Expected calls as a partial order: which comes in which row, and what leads to what. */
import type { CallPicture } from "../api/client";

export interface Edge {
  from: string;
  to: string;
  /** A chain of `order`, or a value that goes from one call to the other. */
  kind: "order" | "value";
}

/** Neighbours in the chains, and the ways of values; each pair once for each kind. */
export function edgesOf(calls: CallPicture[], order: string[][]): Edge[] {
  const there = new Set(calls.map((c) => c.name));
  const edges: Edge[] = [];
  const add = (from: string, to: string, kind: Edge["kind"]) => {
    if (from === to || !there.has(from) || !there.has(to)) return;
    if (!edges.some((e) => e.from === from && e.to === to && e.kind === kind))
      edges.push({ from, to, kind });
  };
  for (const chain of order)
    chain.slice(1).forEach((name, i) => add(chain[i] ?? "", name, "order"));
  for (const call of calls)
    for (const arg of call.args) for (const s of arg.sources) add(s, call.name, "value");
  return edges;
}

/** The calls in rows: each below all that comes before it. A contradiction ends where it began. */
export function rowsOf(calls: CallPicture[], edges: Edge[]): CallPicture[][] {
  const depth = new Map<string, number>();
  const measure = (name: string, seen: string[]): number => {
    const known = depth.get(name);
    if (known !== undefined) return known;
    const before = edges.filter((e) => e.to === name && !seen.includes(e.from));
    const d = Math.max(0, ...before.map((e) => 1 + measure(e.from, [...seen, name])));
    if (!seen.length) depth.set(name, d);
    return d;
  };
  const rows: CallPicture[][] = [];
  for (const call of calls) (rows[measure(call.name, [])] ??= []).push(call);
  return rows.filter(Boolean);
}
