/**
 * Where everything of a trial's two tracks stands.
 *
 * The script's expected calls are on the upper track in the script's order, each as near
 * above the call that answers it as that order allows; so a join that crosses another
 * is out of order. The lower track is to scale in time, or in equal steps.
 */

import { scaleLinear } from "d3-scale";
import { hasVoices, type ModelEvent, type TraceEvent, type TrialView } from "../api/trace";
import { duration, shortTool } from "../values/text";
import { roomFor, type Label } from "./labels";
import { barsOf, isPast, lanesOf, type Bar, type Lane } from "./lanes";
import { FIRST_LANE_Y, LEFT, RIGHT, THIN } from "./measures";
import { arcsOf, halfWidth, joinsOf, nodesOf, type Join, type Line, type Node } from "./script";
import { asksOf, lostOf, partsOf, recoveriesOf, type Ask, type Lost, type Recovery } from "./signs";
import { beginning, end, gapsOf, ownTime, type Scale, timeScale, turnsOf } from "./time";
import { wordsOf, type Words } from "./words";

export interface Span {
  x: number;
  width: number;
  y: number;
  title: string;
}

export interface ModelBar extends Span {
  id: string;
  injected: boolean;
  /** Whether its answer was played back from a recording. */
  played: boolean;
}

/** A stretch of the axis that is not to scale. */
export interface Break {
  x: number;
  width: number;
  title: string;
}

export interface Tracks {
  width: number;
  height: number;
  lanes: Lane[];
  nodes: Node[];
  /** The expected calls whose names, and whose reasons for being missing, have room. */
  named: Set<string>;
  arcs: Line[];
  bars: Bar[];
  joins: Join[];
  model: ModelBar[];
  voices: (Label & { y: number })[];
  held: Span[];
  waited: Span[];
  asks: Ask[];
  recoveries: Recovery[];
  planted: { x: number; y: number; title: string }[];
  parts: Label[];
  /** Where a fork goes on by itself. */
  forked: Label | null;
  own: Span[];
  lost: Lost[];
  words: Words[];
  bounds: { x: number }[];
  breaks: Break[];
  ticks: Label[];
  axisY: number;
}

/** Pixels within which everything has room for its name, at least those that there are. */
export function naturalWidth(view: TrialView, room: number, scale: Scale): number {
  const events = view.trace.events;
  const calls = events.filter((e) => e.kind === "call").length;
  const turns = events.filter((e) => e.kind === "turn").length;
  const names = view.expected.reduce((sum, e) => sum + 2 * halfWidth(e.name, "not proposed"), 0);
  const wanted = [calls * (scale === "steps" ? 60 : 26), names, turns * 64];
  return Math.max(room, ...wanted.map((pixels) => LEFT + RIGHT + pixels));
}

/** The whole drawing, for a width in pixels. */
export function layOut(view: TrialView, width: number, scale: Scale): Tracks {
  const events = view.trace.events;
  const stopping = events.find((e) => e.kind === "end");
  const last = events.reduce((most, e) => Math.max(most, end(e, e.t)), stopping?.t ?? 0);
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
  const waits = (event: TraceEvent, title: string) =>
    span(event.t, end(event, last), FIRST_LANE_Y, `${title}, ${ms(end(event, last) - event.t)}`);
  const requests = events.filter((e) => e.kind === "model");
  const modelY = FIRST_LANE_Y + THIN;
  const gaps = scale === "time" ? gapsOf(events, last) : [];
  return {
    width,
    height: below + 42,
    lanes,
    nodes,
    named: new Set(roomFor(nodes.map(widestOf), true).map((n) => n.name)),
    arcs: arcsOf(view.order, nodes),
    bars,
    joins: joinsOf(view, nodes, bars),
    model: requests.map((event) => ({
      ...span(event.t, end(event, last), modelY, titleOf(view, event, last)),
      id: event.id,
      injected: view.injected[event.id] !== undefined,
      played: isPlayed(view, event),
    })),
    voices: roomFor(voicesOf(view, requests, x)).map((label) => ({ ...label, y: modelY - 7 })),
    held: events.filter((e) => e.kind === "hold").map((e) => waits(e, `${e.tool} held by hand`)),
    waited: events
      .filter((e) => e.kind === "ask" && e.s)
      .map((e) => waits(e, "waited for an approval")),
    asks: asksOf(view, x),
    recoveries: recoveriesOf(view, bars),
    planted: bars
      .filter((b) => view.planted[b.id] !== undefined)
      .map((b) => ({ x: b.x + 4, y: b.y - 7, title: `planted: ${view.planted[b.id]}` })),
    parts: partsOf(view, x),
    forked: forkedAt(view, x),
    own: ownTime(events, last).map(([from, to]) =>
      span(from, to, FIRST_LANE_Y, `the agent itself, ${ms(to - from)}`),
    ),
    lost: lostOf(view, x, modelY),
    words: wordsOf(events, x, below, width),
    bounds: turnsOf(events, last).flatMap(([from, to]) => [{ x: x(from) }, { x: x(to) }]),
    breaks: gaps.map((gap) => ({
      x: x(gap.from),
      width: x(gap.to) - x(gap.from),
      title: `${ms(gap.to - gap.from)} ${gap.what}, not to scale`,
    })),
    ticks: scale === "time" ? ticksOf(events, last, x, width) : [],
    axisY: below + 34,
  };
}

const ms = (seconds: number) => duration(seconds * 1000);

/** The wider of an expected call's two lines of words. */
function widestOf({ expected, x, why }: Node): Label & { name: string } {
  const reason = (why ?? "").replaceAll("_", " ");
  return {
    name: expected.name,
    x,
    text: expected.name.length > reason.length ? expected.name : reason,
  };
}

function titleOf(view: TrialView, event: ModelEvent, last: number): string {
  const proposed = event.proposed?.map((p) => shortTool(p.tool)).join(", ");
  const did = proposed ? `proposed ${proposed}` : "answered in words";
  const who = hasVoices(view.trace) ? `model as ${event.voice}` : "model";
  const injected = view.injected[event.id];
  const played = isPlayed(view, event) ? " (played back)" : "";
  const waited = event.waited_s ? `, of which ${ms(event.waited_s)} waited for a rate limit` : "";
  const took = `${ms(end(event, last) - event.t)}${waited}`;
  return `${who}, ${took}: ${did}${injected ? ` (${injected})` : ""}${played}`;
}

/** Whether a request was answered from a recording, or belongs to a fork's past. */
function isPlayed(view: TrialView, event: ModelEvent): boolean {
  if (isPast(view, event.t)) return true;
  const { models } = view.setup;
  const model = models.find((m) => m.called === event.voice) ?? models[0];
  return model?.recorded ?? false;
}

/** Where a fork leaves what was played back. */
function forkedAt(view: TrialView, x: (t: number) => number): Label | null {
  const { fork } = view.trace;
  return fork?.t == null ? null : { x: x(fork.t), text: `from here ${fork.change}` };
}

/** Who begins to speak, where more than one voice does. */
function voicesOf(view: TrialView, requests: ModelEvent[], x: (t: number) => number): Label[] {
  if (!hasVoices(view.trace)) return [];
  return requests.flatMap((event, i) =>
    event.voice && event.voice !== requests[i - 1]?.voice
      ? [{ x: x(event.t), text: event.voice }]
      : [],
  );
}

/** The axis counts from the user's first words. */
function ticksOf(
  events: TraceEvent[],
  last: number,
  x: (t: number) => number,
  width: number,
): Label[] {
  const zero = beginning(events);
  const whole = Math.max(last - zero, 1e-3);
  const gaps = gapsOf(events, last);
  // None finer than a millisecond, which is as fine as times are told.
  const wanted = Math.min(Math.max(8, width / 150), whole * 1000);
  const ticks = scaleLinear()
    .domain([0, whole])
    .ticks(wanted)
    .filter((t) => !gaps.some((gap) => t + zero > gap.from && t + zero < gap.to));
  const text = (t: number) => (whole < 10 ? ms(t) : `${Number(t.toFixed(3))} s`);
  return roomFor(
    ticks.map((t) => ({ x: x(t + zero), text: text(t) })),
    true,
  );
}

interface Placed {
  x: number;
  width?: number;
}

/** Pixels beyond what is in sight that are drawn too: a label may begin there. */
const BEYOND = 240;

/** The part of a drawing that stands between two places: of thousands of calls only those. */
export function inSight(tracks: Tracks, from: number, to: number): Tracks {
  const some = <Thing extends Placed>(things: Thing[]) =>
    things.filter(({ x, width = 0 }) => x + width > from - BEYOND && x < to + BEYOND);
  return {
    ...tracks,
    nodes: some(tracks.nodes),
    arcs: some(tracks.arcs),
    bars: some(tracks.bars),
    joins: some(tracks.joins),
    model: some(tracks.model),
    voices: some(tracks.voices),
    held: some(tracks.held),
    waited: some(tracks.waited),
    asks: some(tracks.asks),
    recoveries: some(tracks.recoveries),
    planted: some(tracks.planted),
    parts: some(tracks.parts),
    own: some(tracks.own),
    lost: some(tracks.lost),
    words: some(tracks.words),
    bounds: some(tracks.bounds),
    breaks: some(tracks.breaks),
    ticks: some(tracks.ticks),
  };
}
