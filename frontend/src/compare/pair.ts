/**
 * Where everything of two trials of one task stands: A's calls above the script, B's below, on one
 * scale of time or of steps.
 */

import { scaleLinear } from "d3-scale";
import type { Expected } from "../api/client";
import { modelRequestsOf, type TraceEvent, type TrialView } from "../api/trace";
import { barsOf, lanesOf, type Bar, type Lane } from "../trial/lanes";
import { CHARACTER, LEFT, RIGHT } from "../trial/measures";
import { beginning, end, spread, type Scale } from "../trial/time";
import { duration } from "../values/text";
import { roomFor, type Label } from "../trial/labels";
import { partingOf, type Parting } from "./parting";

const LANE = 40;
const FROM_SCRIPT = 56;
const MODEL = 26;
const TOP = 34;

export interface Half {
  lanes: Lane[];
  bars: Bar[];
  /** What its model took. */
  model: { x: number; y: number; width: number; title: string }[];
  joins: { path: string; doubt: boolean; call: string }[];
}

export interface PairNode {
  expected: Expected;
  x: number;
  inA: boolean;
  inB: boolean;
}

export interface PairDrawing {
  width: number;
  height: number;
  scriptY: number;
  a: Half;
  b: Half;
  nodes: PairNode[];
  named: Set<string>;
  parting: Parting & { path: string | null; x: number };
  ticks: Label[];
}

/** Seconds of the last thing that happened. */
const lastOf = (events: TraceEvent[]) =>
  events.reduce((most, e) => Math.max(most, e.kind === "end" ? e.t : end(e, e.t)), 0);

/** The moments of a trial in order: what steps are counted by. */
function momentsOf(events: TraceEvent[], last: number): number[] {
  const moments = events.flatMap((e) => (e.kind === "end" ? [] : [e.t, end(e, last)]));
  return [...new Set([beginning(events), ...moments, last])].sort((one, other) => one - other);
}

/** One scale for both: seconds from each trial's first words, or steps of equal width. */
function scales(a: TraceEvent[], b: TraceEvent[], width: number, scale: Scale) {
  const range = [LEFT, width - RIGHT] as const;
  if (scale === "time") {
    const longest = Math.max(...[a, b].map((one) => lastOf(one) - beginning(one)), 1e-3);
    return [a, b].map((events) => {
      const zero = beginning(events);
      return scaleLinear([zero, zero + longest], range);
    });
  }
  const both = [a, b].map((events) => momentsOf(events, lastOf(events)));
  const step = (range[1] - range[0]) / Math.max(1, ...both.map((moments) => moments.length - 1));
  return both.map((moments) =>
    scaleLinear(
      moments,
      moments.map((_, i) => range[0] + i * step),
    ),
  );
}

/** A trial's lanes and calls, above the script or below it. */
function halfOf(
  view: TrialView,
  servers: Lane[],
  x: (t: number) => number,
  width: number,
  place: { scriptY: number; above: boolean },
): Half {
  const sign = place.above ? -1 : 1;
  const at = (i: number) => place.scriptY + sign * (FROM_SCRIPT + i * LANE);
  const lanes = servers.map((lane, i) => ({ ...lane, y: at(i) }));
  const modelY = at(servers.length - 1) + sign * (MODEL + 10);
  const events = view.trace.events;
  const last = lastOf(events);
  const bars = barsOf(view, lanes, x, last, width).map((bar) =>
    place.above ? { ...bar, labelY: 2 * bar.y - bar.labelY + 9 } : bar,
  );
  return {
    lanes: [...lanes, { name: "model", y: modelY, colour: null }],
    bars,
    model: modelRequestsOf(view.trace).map((event) => ({
      x: x(event.t),
      y: modelY,
      width: Math.max(1.5, x(end(event, last)) - x(event.t)),
      title: `model, ${duration((end(event, last) - event.t) * 1000)}`,
    })),
    joins: [],
  };
}

function nodesOf(a: TrialView, b: TrialView, halves: [Half, Half], width: number): PairNode[] {
  const middle = (half: Half, id: string | undefined) => {
    const bar = half.bars.find((one) => one.id === id);
    return bar ? bar.x + Math.min(bar.width / 2, 40) : undefined;
  };
  let before = LEFT + 20;
  const expected = b.expected;
  const wanted = expected.map((e) => {
    const places = [
      middle(halves[0], a.result?.matched[e.name]?.[0]),
      middle(halves[1], b.result?.matched[e.name]?.[0]),
    ].filter((x) => x !== undefined);
    before = places.length ? places.reduce((sum, x) => sum + x, 0) / places.length : before + 40;
    return before;
  });
  const order = [...expected.keys()].sort((i, k) => (wanted[i] ?? 0) - (wanted[k] ?? 0));
  const half = (i: number) => Math.max(18, ((expected[i]?.name.length ?? 0) * CHARACTER) / 2 + 6);
  const gaps = order.map((i, place) => (place ? half(order[place - 1] ?? 0) + half(i) : 0));
  const xs = spread(
    order.map((i) => wanted[i] ?? LEFT),
    gaps,
    LEFT + 12,
    width - RIGHT,
  );
  return order.flatMap((i, place) => {
    const one = expected[i];
    if (!one) return [];
    return [
      {
        expected: one,
        x: xs[place] ?? LEFT,
        inA: Boolean(a.result?.matched[one.name]?.length),
        inB: Boolean(b.result?.matched[one.name]?.length),
      },
    ];
  });
}

function joinsOf(view: TrialView, half: Half, nodes: PairNode[], scriptY: number): Half["joins"] {
  return nodes.flatMap((node) =>
    (view.result?.matched[node.expected.name] ?? []).flatMap((id) => {
      const bar = half.bars.find((one) => one.id === id);
      if (!bar) return [];
      const sign = bar.y < scriptY ? -1 : 1;
      const x = bar.x + Math.min(bar.width / 2, 40);
      const [from, to] = [scriptY + sign * 9, bar.y - sign * 9];
      const bend = (to - from) * 0.55;
      return [
        {
          path: `M${node.x} ${from}C${node.x} ${from + bend} ${x} ${to - bend} ${x} ${to}`,
          doubt: bar.badArguments,
          call: id,
        },
      ];
    }),
  );
}

/** The whole drawing, for a width in pixels. */
export function layOutPair(a: TrialView, b: TrialView, width: number, scale: Scale): PairDrawing {
  const named = new Map(
    [...lanesOf(a), ...lanesOf(b)].filter((lane) => lane.colour).map((lane) => [lane.name, lane]),
  );
  const servers = [...named.values()];
  const reach = FROM_SCRIPT + Math.max(0, servers.length - 1) * LANE + MODEL + 10;
  const scriptY = TOP + reach + 10;
  const [xa, xb] = scales(a.trace.events, b.trace.events, width, scale);
  if (!xa || !xb) throw new Error("two scales are made of two trials");
  const above = halfOf(a, servers, xa, width, { scriptY, above: true });
  const below = halfOf(b, servers, xb, width, { scriptY, above: false });
  const nodes = nodesOf(a, b, [above, below], width);
  above.joins = joinsOf(a, above, nodes, scriptY);
  below.joins = joinsOf(b, below, nodes, scriptY);
  const parting = partingOf(a.trace, b.trace);
  const height = scriptY + reach + 44;
  const upper = parting.a === null ? null : xa(parting.a);
  const lower = parting.b === null ? null : xb(parting.b);
  const [top, bottom] = [upper ?? lower, lower ?? upper];
  const zero = beginning(a.trace.events);
  const longest = xa.domain()[1] ?? 1;
  return {
    width,
    height,
    scriptY,
    a: above,
    b: below,
    nodes,
    named: new Set(
      roomFor(
        nodes.map((node) => ({ x: node.x, text: node.expected.name })),
        true,
      ).map((label) => label.text),
    ),
    parting: {
      ...parting,
      x: top ?? 0,
      path:
        top === null || bottom === null
          ? null
          : `M${top} ${TOP - 12}V${scriptY - 30}L${bottom} ${scriptY + 30}V${height - 30}`,
    },
    ticks:
      scale === "time"
        ? roomFor(
            scaleLinear([0, longest - zero], [0, 1])
              .ticks(8)
              .map((t) => ({ x: xa(t + zero), text: duration(t * 1000) })),
            true,
          )
        : [],
  };
}
