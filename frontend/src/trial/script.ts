/** The upper track: the script's expected calls, and what joins them to the agent's. */

import type { Expected } from "../api/client";
import type { TrialView } from "../api/trace";
import type { Bar } from "./lanes";
import { CHARACTER, LEFT, RIGHT, SCRIPT_Y } from "./measures";
import { spread } from "./time";

export interface Node {
  expected: Expected;
  x: number;
  label: string;
  state: "matched" | "missing" | "optional" | "open";
  why: string | null;
}

/** A line of the drawing, and the stretch that it takes. */
export interface Line {
  path: string;
  x: number;
  width: number;
}

export interface Join extends Line {
  kind: "matched" | "attempt";
  tone: "holds" | "doubt" | "broke";
  crossed: { x: number; y: number } | null;
  name: string;
  call: string;
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
export function halfWidth(name: string, why: string | null): number {
  return Math.max(18, (Math.max(name.length, (why ?? "").length) * CHARACTER) / 2 + 6);
}

export function nodesOf(view: TrialView, bars: Bar[], width: number): Node[] {
  const barOf = new Map(bars.map((bar) => [bar.id, bar]));
  const middle = (id: string) => {
    const bar = barOf.get(id);
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

export function arcsOf(order: string[][], nodes: Node[]): Line[] {
  const at = new Map(nodes.map((n) => [n.expected.name, n.x]));
  return order.flatMap((chain) =>
    chain.slice(1).flatMap((name, i) => {
      const from = at.get(chain[i] ?? "");
      const to = at.get(name);
      if (from === undefined || to === undefined) return [];
      const lift = Math.min(22, 6 + Math.abs(to - from) * 0.05);
      const y = SCRIPT_Y - 6;
      const path = `M${from + 6} ${y}C${from + 20} ${y - lift} ${to - 20} ${y - lift} ${to - 6} ${y}`;
      return [{ path, x: Math.min(from, to), width: Math.abs(to - from) }];
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

export function joinsOf(view: TrialView, nodes: Node[], bars: Bar[]): Join[] {
  const result = view.result;
  if (!result) return [];
  const late = outOfOrder(view);
  const barOf = new Map(bars.map((bar) => [bar.id, bar]));
  const joins: Join[] = [];
  for (const node of nodes) {
    const name = node.expected.name;
    const ends = [
      ...(result.attempts[name] ?? []).map((id) => ({ id, kind: "attempt" as const })),
      ...(result.matched[name] ?? []).map((id) => ({ id, kind: "matched" as const })),
    ];
    for (const { id, kind } of ends) {
      const bar = barOf.get(id);
      if (!bar) continue;
      const x = bar.x + Math.min(bar.width / 2, 40);
      const [top, bottom] = [SCRIPT_Y + 8, bar.y - 8];
      const bend = (bottom - top) * 0.55;
      const crossed =
        kind === "matched" && late.has(name)
          ? { x: (node.x + x) / 2, y: (top + bottom) / 2 }
          : null;
      joins.push({
        x: Math.min(node.x, x),
        width: Math.abs(node.x - x),
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
