<script lang="ts">
  /* What stands on the tracks, inside an SVG: drawn as it was laid out. */
  import type { TrialView } from "../api/trace";
  import { LEFT, SCRIPT_Y } from "./measures";
  import type { Tracks } from "./tracks";

  interface Props {
    view: TrialView;
    /** The part of the drawing that is in sight, and where it begins. */
    tracks: Tracks;
    left: number;
    chosen: string | null;
    lit: Set<string> | null;
    onchoose: (id: string) => void;
  }
  let { view, tracks, left, chosen, lit, onchoose }: Props = $props();

  const pale = (id: string) => (lit && !lit.has(id) ? 0.22 : 1);

  function byKey(event: KeyboardEvent, id: string) {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    onchoose(id);
  }
</script>

<defs>
  <pattern id="played-back" width="5" height="14" patternUnits="userSpaceOnUse">
    <path d="M1 0v14" class="stripe" />
  </pattern>
</defs>
{#each tracks.bounds as { x }, i (i)}
  <path class="bound" d={`M${x} 92V${tracks.axisY - 8}`} />
{/each}

<path class="rail" d={`M${LEFT} ${SCRIPT_Y}H${tracks.width - 4}`} />
{#each tracks.lanes as lane (lane.name)}
  <path class="rail" d={`M${LEFT} ${lane.y}H${tracks.width - 4}`} />
{/each}

{#each tracks.arcs as arc, i (i)}<path class="arc" d={arc.path} />{/each}

{#each tracks.own as span, i (i)}
  <rect class="own" x={span.x} y={span.y - 2} width={span.width} height="4">
    <title>{span.title}</title>
  </rect>
{/each}
{#each tracks.model as span (span.id)}
  <g
    class={["thinking", { chosen: chosen === span.id }]}
    role="button"
    tabindex="0"
    aria-label={`${span.title}; opens what it was shown`}
    data-model={span.id}
    onclick={() => onchoose(span.id)}
    onkeydown={(e) => byKey(e, span.id)}
  >
    <title>{span.title}</title>
    <rect x={span.x - 2} y={span.y - 9} width={span.width + 4} height="18" fill="transparent" />
    <rect
      class={["model", { played: span.played }]}
      x={span.x}
      y={span.y - 5}
      width={span.width}
      height="10"
    />
    {#if span.injected}<path class="injected" d={`M${span.x - 3} ${span.y - 12}h8l-4 6z`} />{/if}
  </g>
{/each}
{#each tracks.voices as voice (voice.x)}
  <text class="voice" x={voice.x} y={voice.y}>{voice.text}</text>
{/each}
{#each tracks.waited as span, i (i)}
  <rect class="waited" x={span.x} y={span.y - 5} width={span.width} height="10">
    <title>{span.title}</title>
  </rect>
{/each}
{#each tracks.held as span, i (i)}
  <rect class="held" x={span.x} y={span.y - 5} width={span.width} height="10">
    <title>{span.title}</title>
  </rect>
{/each}

{#each tracks.parts as part (part.text)}
  <path class="part" d={`M${part.x} 74V${tracks.axisY - 8}`} />
  <text class="part-name" x={part.x + 4} y="82">{part.text}</text>
{/each}
{#if tracks.forked}
  <path class="part" d={`M${tracks.forked.x - 2} 74V${tracks.axisY - 8}`} />
  <text class="part-name" x={tracks.forked.x + 3} y="72">{tracks.forked.text}</text>
{/if}
{#each tracks.asks as ask, i (i)}
  <g class={["ask", { denied: ask.denied }]}>
    <title>{ask.title}</title>
    <rect x={ask.x - 6} y={ask.y - 8} width="12" height="16" fill="transparent" />
    <path d={`M${ask.x - 3} ${ask.y - 6}v12M${ask.x + 3} ${ask.y - 6}v12`} />
    {#if ask.denied}<path d={`M${ask.x - 3} ${ask.y}h6`} />{/if}
  </g>
{/each}
{#each tracks.recoveries as recovery, i (i)}
  <path class="recovery" d={recovery.path}><title>{recovery.title}</title></path>
{/each}

{#each tracks.joins as join (join.call)}
  <g opacity={pale(join.call)}>
    <path class={["join", join.kind, join.tone, { chosen: chosen === join.call }]} d={join.path} />
    {#if join.crossed}
      <path class="crossed" d={`M${join.crossed.x - 5} ${join.crossed.y - 5}l10 10m0 -10l-10 10`}>
        <title>out of order</title>
      </path>
    {/if}
  </g>
{/each}

{#each tracks.nodes as node (node.expected.name)}
  {@const id = view.result?.matched[node.expected.name]?.[0] ?? `=${node.expected.name}`}
  <g
    class={["node", node.state, { chosen: chosen === id }]}
    role="button"
    tabindex="0"
    aria-label={`expected ${node.expected.name}: ${node.state}`}
    onclick={() => onchoose(id)}
    onkeydown={(e) => byKey(e, id)}
  >
    <title>{node.expected.tool}{node.why ? `: ${node.why.replaceAll("_", " ")}` : ""}</title>
    <rect x={node.x - 16} y="2" width="32" height="60" fill="transparent" />
    {#if tracks.named.has(node.expected.name)}
      <text x={node.x} y="15" text-anchor="middle">{node.label}</text>
    {/if}
    <circle cx={node.x} cy={SCRIPT_Y} r="7" />
    {#if (node.state === "missing" || node.state === "optional") && tracks.named.has(node.expected.name)}
      <text class="why" x={node.x} y={SCRIPT_Y + 21} text-anchor="middle">
        {node.state === "optional" ? "optional" : (node.why?.replaceAll("_", " ") ?? "missing")}
      </text>
    {/if}
  </g>
{/each}

{#each tracks.bars as bar (bar.id)}
  <g
    class={["bar", bar.role, { chosen: chosen === bar.id }]}
    style:--colour={bar.colour}
    opacity={pale(bar.id)}
    role="button"
    tabindex="0"
    aria-label={`${bar.event.tool}, ${bar.role}${bar.failed ? ", failed" : ""}${bar.badArguments ? ", wrong arguments" : ""}`}
    data-call={bar.id}
    onclick={() => onchoose(bar.id)}
    onkeydown={(e) => byKey(e, bar.id)}
  >
    <title>{bar.title}</title>
    <!-- A short call is a thin bar: its label and what lies between answer clicks too. -->
    <rect
      x={bar.x}
      y={bar.y - 9}
      width={Math.max(bar.width, bar.label.length * 6.4)}
      height={bar.labelY - bar.y + 15}
      fill="transparent"
    />
    <rect class="shape" x={bar.x} y={bar.y - 7} width={bar.width} height="14" />
    {#if bar.played}
      <rect
        class="played"
        x={bar.x}
        y={bar.y - 7}
        width={bar.width}
        height="14"
        fill="url(#played-back)"
      />
    {/if}
    {#if bar.badArguments}
      <path class="notch" d={`M${bar.x + bar.width + 1} ${bar.y - 8}v10l-10 -10z`} />
    {/if}
    {#if bar.failed}
      {@const x = bar.x + bar.width / 2}
      <path class="gap" d={`M${x + 2} ${bar.y - 9}l-4 8h5l-4 10`} />
      <path class="break" d={`M${x + 2} ${bar.y - 9}l-4 8h5l-4 10`} />
    {/if}
    {#if bar.injected}
      <path class="injected" d={`M${bar.x - 1} ${bar.y - 17}h10l-5 8z`} />
    {/if}
    {#if bar.event.s === null && !view.result}
      <rect class="moving" x={bar.x} y={bar.y - 7} width={bar.width} height="14" />
    {/if}
    {#if bar.label}<text x={bar.labelX} y={bar.labelY}>{bar.label}</text>{/if}
  </g>
{/each}

{#each tracks.planted as flag, i (i)}
  <path class="planted" d={`M${flag.x} ${flag.y}v-11l8 3.5 -8 3.5`}
    ><title>{flag.title}</title></path
  >
{/each}

{#each tracks.lost as lost (lost.id)}
  <g class="lost" opacity={pale(lost.id)}>
    <title>{lost.title}</title>
    <path class="dot" d={`M${lost.x} ${lost.y - 7}l7 7 -7 7 -7 -7z`} />
    <path class="break" d={`M${lost.x + 2} ${lost.y - 8}l-4 8h5l-4 9`} />
  </g>
{/each}

{#each tracks.words as words, i (i)}
  <text
    class={{ words: true, user: words.user }}
    x={words.end ? words.x + words.width : words.x}
    y={words.y}
    text-anchor={words.end ? "end" : "start"}
  >
    <title>{words.full}</title>{words.text}
  </text>
{/each}

{#each tracks.breaks as gap, i (i)}
  <g class="broken">
    <title>{gap.title}</title>
    <rect x={gap.x} y="66" width={gap.width} height={tracks.axisY - 70} />
    <path
      d={`M${gap.x + gap.width / 2 - 7} ${tracks.axisY - 3}l4 -8 M${gap.x + gap.width / 2 + 3} ${tracks.axisY - 3}l4 -8`}
    />
  </g>
{/each}
{#each tracks.ticks as tick (tick.x)}
  <path class="tick" d={`M${tick.x} ${tracks.axisY - 10}v4`} />
  <text class="axis" x={tick.x} y={tracks.axisY + 5} text-anchor="middle">{tick.text}</text>
{/each}

<!-- The lanes' names stay in sight; what is scrolled goes under them. -->
<rect class="names" x={left} y="0" width={LEFT - 8} height={tracks.axisY - 10} />
<text class="lane" x={left} y={SCRIPT_Y + 4}>script</text>
{#each tracks.lanes as lane (lane.name)}
  <text class="lane" x={left} y={lane.y + 4} style:fill={lane.colour ?? "var(--soft)"}>
    {lane.name.length > 11 ? `${lane.name.slice(0, 10)}…` : lane.name}
    <title>{lane.name}</title>
  </text>
{/each}

<style>
  text {
    fill: var(--ink);
  }
  .lane {
    font-weight: 600;
  }
  .names {
    fill: var(--ground);
  }
  .stripe {
    stroke: var(--ground);
    stroke-width: 2;
  }
  .played {
    pointer-events: none;
  }
  .model.played {
    fill-opacity: 0.45;
    stroke: var(--own-time);
    stroke-dasharray: 2 3;
  }
  .waited {
    fill: var(--faint);
    stroke: var(--soft);
    stroke-width: 1;
  }
  .rail {
    stroke: var(--line);
  }
  .bound {
    stroke: var(--soft);
    stroke-dasharray: 1.5 3;
  }
  .arc {
    fill: none;
    stroke: var(--soft);
  }
  .part {
    stroke: var(--iron);
    stroke-dasharray: 6 3;
  }
  .part-name {
    font-size: 11px;
    fill: var(--iron);
  }
  .ask path {
    stroke: var(--holds);
    stroke-width: 2;
    fill: none;
  }
  .ask.denied path {
    stroke: var(--broke);
  }
  .recovery {
    fill: none;
    stroke: var(--holds);
    stroke-width: 1.4;
    stroke-dasharray: 2 3;
  }
  .planted {
    fill: var(--doubt);
    stroke: var(--doubt);
  }
  .own {
    fill: var(--own-time);
  }
  .voice {
    font-size: 11px;
    fill: var(--soft);
  }
  .held {
    fill: var(--doubt-wash);
    stroke: var(--doubt);
    stroke-dasharray: 3 2;
  }
  .model {
    fill: var(--thinking);
  }
  .thinking {
    cursor: pointer;
  }
  .thinking:hover .model {
    fill: var(--own-time);
  }
  .thinking.chosen .model {
    outline: 2px solid var(--ink);
    outline-offset: 2px;
  }
  .thinking:focus-visible {
    outline: none;
  }
  .thinking:focus-visible .model {
    outline: 2px solid var(--iron);
    outline-offset: 3px;
  }
  .injected {
    fill: var(--doubt);
  }
  .broken rect {
    fill: var(--faint);
    opacity: 0.6;
  }
  .broken path {
    fill: none;
    stroke: var(--ink);
    stroke-width: 1.4;
  }
  .join {
    fill: none;
    stroke-width: 2;
  }
  .join.chosen {
    stroke-width: 3.5;
  }
  .join.attempt {
    stroke-dasharray: 2.5 3.5;
    stroke: var(--soft);
  }
  .join.matched.holds {
    stroke: var(--holds);
  }
  .join.matched.doubt {
    stroke: var(--doubt);
  }
  .join.matched.broke {
    stroke: var(--broke);
  }
  .crossed {
    stroke: var(--broke);
    stroke-width: 2.5;
  }
  .node,
  .bar {
    cursor: pointer;
  }
  .node text {
    font-weight: 600;
    font-size: 12.5px;
  }
  .node circle {
    fill: var(--ink);
    stroke: var(--ink);
    stroke-width: 1.8;
  }
  .node.missing circle,
  .node.optional circle,
  .node.open circle {
    fill: var(--ground);
  }
  .node.chosen text:first-of-type {
    text-decoration: underline;
    text-decoration-thickness: 2px;
    text-underline-offset: 4px;
  }
  .node.missing circle {
    stroke: var(--broke);
    stroke-width: 2.4;
  }
  .node.optional circle {
    stroke: var(--soft);
    stroke-dasharray: 2.6 2.2;
  }
  .node.optional text {
    fill: var(--soft);
    font-weight: 400;
  }
  .node .why {
    font-size: 11px;
    font-weight: 400;
    fill: var(--soft);
  }
  .node.missing .why {
    fill: var(--broke);
  }
  .bar .shape {
    fill: var(--colour);
    stroke: var(--colour);
    stroke-width: 1.6;
  }
  .bar.extra .shape,
  .bar.denied .shape {
    fill: var(--ground);
  }
  .bar.denied .shape {
    stroke-dasharray: 2 2;
  }
  .bar.attempt .shape {
    fill-opacity: 0.45;
    stroke-opacity: 0.45;
  }
  .bar.chosen .shape {
    outline: 2px solid var(--ink);
    outline-offset: 2px;
  }
  .bar.extra text {
    fill: var(--soft);
  }
  .notch {
    fill: var(--doubt);
    stroke: var(--ground);
    stroke-width: 1.5;
  }
  .gap {
    fill: none;
    stroke: var(--ground);
    stroke-width: 6;
  }
  .break {
    fill: none;
    stroke: var(--broke);
    stroke-width: 2;
  }
  .moving {
    fill: var(--colour);
    animation: moving 1s infinite;
  }
  .lost .dot {
    fill: var(--ground);
    stroke: var(--soft);
    stroke-width: 1.5;
  }
  .words {
    fill: var(--ink);
  }
  .words.user {
    fill: var(--soft);
  }
  .tick {
    stroke: var(--soft);
  }
  .axis {
    fill: var(--soft);
  }
  .node:focus-visible circle,
  .bar:focus-visible .shape {
    outline: 2px solid var(--iron);
    outline-offset: 3px;
  }
  .node:focus-visible,
  .bar:focus-visible {
    outline: none;
  }
</style>
