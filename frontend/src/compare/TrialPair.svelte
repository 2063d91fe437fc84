<script lang="ts">
  /* Two trials of a task: the script in the middle, A's calls above it, B's below. */
  import { address } from "../address.svelte";
  import { api, ask } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import type { TrialView } from "../api/trace";
  import Notice from "../frame/Notice.svelte";
  import Button from "../kit/Button.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import { LEFT } from "../trial/measures";
  import Sentence from "../values/Sentence.svelte";
  import { counted, verdictColour } from "../values/text";
  import { layOutPair, type Half } from "./pair";

  const [one, other] = ["a", "b"].map((side) => () => Number(address.query.get(side)) || null);
  const reading = new Resource(async () => {
    const ids = [one?.(), other?.()];
    const views = await Promise.all(ids.map((id) => (id ? read(id) : null)));
    return views;
  });
  const a = $derived(reading.value?.[0] ?? null);
  const b = $derived(reading.value?.[1] ?? null);
  const scale = $derived(address.query.get("by") === "steps" ? "steps" : "time");
  let room = $state(1200);
  const drawing = $derived(a && b ? layOutPair(a, b, room, scale) : null);
  const sameTask = $derived(a?.trial.task === b?.trial.task && a?.trial.suite === b?.trial.suite);

  async function read(trial: number): Promise<TrialView> {
    const params = { path: { trial }, query: {} };
    return (await ask(api.GET("/api/trials/{trial}", { params }))) as unknown as TrialView;
  }

  function swap() {
    const [x, y] = [address.query.get("a"), address.query.get("b")];
    address.go(`/compare?view=trials&a=${y}&b=${x}${scale === "steps" ? "&by=steps" : ""}`);
  }
  const replies = (view: TrialView) =>
    view.trace.events.filter((e) => e.kind === "reply").map((e) => e.text ?? "");
</script>

{#snippet half(side: Half, view: TrialView, name: string)}
  {#each side.lanes as lane (lane.name)}
    <path class="rail" d={`M${LEFT} ${lane.y}H${drawing?.width}`} />
    <text class="lane" x="0" y={lane.y + 4} style:fill={lane.colour ?? "var(--soft)"}
      >{lane.name.length > 11 ? `${lane.name.slice(0, 10)}…` : lane.name}</text
    >
  {/each}
  {#each side.model as span, i (i)}
    <rect class="model" x={span.x} y={span.y - 5} width={span.width} height="10">
      <title>{name}: {span.title}</title>
    </rect>
  {/each}
  {#each side.joins as join (join.call)}
    <path class={["join", { doubt: join.doubt }]} d={join.path} />
  {/each}
  {#each side.bars as bar (bar.id)}
    <a
      href={`/trial/${view.trial.id}?call=${bar.id}`}
      class={["bar", bar.role]}
      style:--colour={bar.colour}
      aria-label={`${name}: ${bar.event.tool}, ${bar.role}${bar.failed ? ", failed" : ""}${bar.badArguments ? ", wrong arguments" : ""}`}
    >
      <title>{bar.title}</title>
      <rect class="shape" x={bar.x} y={bar.y - 7} width={bar.width} height="14" />
      {#if bar.badArguments}
        <path class="notch" d={`M${bar.x + bar.width + 1} ${bar.y - 8}v10l-10 -10z`} />
      {/if}
      {#if bar.failed}
        <path class="break" d={`M${bar.x + bar.width / 2 + 2} ${bar.y - 9}l-4 8h5l-4 10`} />
      {/if}
      {#if bar.label}<text x={bar.labelX} y={bar.labelY}>{bar.label}</text>{/if}
    </a>
  {/each}
{/snippet}

{#snippet about(view: TrialView, name: string)}
  <p class="min-w-0 text-sm">
    <b>{name}</b>
    <a class="underline" href={`/trial/${view.trial.id}`}
      >{view.trial.agent} · trial {view.trial.number} of run {view.trial.run}</a
    >
    <strong class={verdictColour(view.trial.verdict)}>{view.trial.verdict ?? "not finished"}</strong
    >{#if view.result?.went_wrong}<br /><span class="wrap-anywhere"
        ><Sentence words={view.result.went_wrong.message} /></span
      >{/if}
  </p>
{/snippet}

{#if reading.fault}
  <Notice tone="broke" title="These trials cannot be shown"><p>{reading.fault}</p></Notice>
{:else if reading.reading && !a}
  <Waiting>Reading both trials…</Waiting>
{:else if !a || !b}
  <Notice title="Two trials are laid beside each other here">
    <p>Open it from a task under <i>Gains and losses</i>.</p>
    <a href="/compare">To the two sides</a>
  </Notice>
{:else if drawing}
  <h1>{b.trial.task}</h1>
  {#if !sameTask}
    <p class="text-doubt">These are trials of different tasks: {a.trial.task}, {b.trial.task}.</p>
  {/if}
  <p class="mb-2" data-testid="parting">
    <b class="inline-block first-letter:uppercase">{drawing.parting.words}.</b>
  </p>
  <div class="mb-1 flex items-center gap-3 text-sm">
    <Button onclick={() => address.mark("by", scale === "steps" ? null : "steps")}
      >{scale === "steps" ? "Show in time" : "Show in steps"}</Button
    >
    <Button onclick={swap}>⇄ Swap</Button>
  </div>
  {@render about(a, "A")}
  <div bind:clientWidth={room} data-testid="pair">
    <svg
      class="block text-xs"
      width={room}
      height={drawing.height}
      role="group"
      aria-label={`The script in the middle, A's calls above it, B's below: ${drawing.parting.words}`}
    >
      <path class="rail script" d={`M${LEFT} ${drawing.scriptY}H${drawing.width}`} />
      <text class="lane" x="0" y={drawing.scriptY + 4}>script</text>
      {@render half(drawing.a, a, "A")}
      {@render half(drawing.b, b, "B")}
      {#each drawing.nodes as node (node.expected.name)}
        <g>
          <title
            >{node.expected.tool}: {node.inA ? "called" : "missing"} in A, {node.inB
              ? "called"
              : "missing"} in B</title
          >
          <path
            class={["node", { missing: !node.inA, optional: node.expected.optional }]}
            d={`M${node.x - 8} ${drawing.scriptY}a8 8 0 0 1 16 0z`}
          />
          <path
            class={["node", { missing: !node.inB, optional: node.expected.optional }]}
            d={`M${node.x - 8} ${drawing.scriptY}a8 8 0 0 0 16 0z`}
          />
          {#if drawing.named.has(node.expected.name)}
            <text class="name" x={node.x + 12} y={drawing.scriptY - 6}>{node.expected.name}</text>
          {/if}
        </g>
      {/each}
      {#if drawing.parting.path}
        <path class="parting" d={drawing.parting.path} />
        <text
          class="parts"
          x={drawing.parting.x + (drawing.parting.x > room - 110 ? -6 : 6)}
          text-anchor={drawing.parting.x > room - 110 ? "end" : "start"}
          y="28">here they part</text
        >
      {/if}
      {#each drawing.ticks as tick (tick.x)}
        <text class="axis" x={tick.x} y={drawing.height - 6} text-anchor="middle">{tick.text}</text>
      {/each}
    </svg>
  </div>
  {@render about(b, "B")}
  <div class="mt-3 grid grid-cols-2 gap-6 text-sm max-md:block">
    {#each [{ view: a, name: "A" }, { view: b, name: "B" }] as { view, name } (name)}
      <section aria-label={`Replies of ${name}`} class="min-w-0">
        <h2>
          {name} replied{replies(view).length > 1
            ? ` in ${counted(replies(view).length, "turn")}`
            : ""}
        </h2>
        {#each replies(view) as text, i (i)}
          <p class="mb-1 wrap-anywhere whitespace-pre-wrap">{text}</p>
        {:else}<p class="text-soft">Nothing.</p>{/each}
      </section>
    {/each}
  </div>
{/if}

<style>
  text {
    fill: var(--ink);
  }
  .lane,
  .name {
    font-weight: 600;
  }
  .rail {
    stroke: var(--line);
  }
  .script {
    stroke: var(--soft);
    stroke-width: 1.5;
  }
  .model {
    fill: var(--thinking);
  }
  .join {
    fill: none;
    stroke: var(--holds);
    stroke-width: 2;
  }
  .join.doubt {
    stroke: var(--doubt);
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
  .bar.attempt .shape {
    fill-opacity: 0.45;
    stroke-opacity: 0.45;
  }
  .bar:focus-visible .shape {
    outline: 2px solid var(--iron);
    outline-offset: 3px;
  }
  .notch {
    fill: var(--doubt);
    stroke: var(--ground);
    stroke-width: 1.5;
  }
  .break {
    fill: none;
    stroke: var(--broke);
    stroke-width: 2;
  }
  .node {
    fill: var(--ink);
    stroke: var(--ink);
    stroke-width: 1.6;
  }
  .node.missing {
    fill: var(--ground);
    stroke: var(--broke);
  }
  .node.missing.optional {
    stroke: var(--soft);
    stroke-dasharray: 2.6 2.2;
  }
  .parting {
    fill: none;
    stroke: var(--iron);
    stroke-width: 1.5;
    stroke-dasharray: 3 3;
  }
  .parts {
    fill: var(--iron);
  }
  .axis {
    fill: var(--soft);
  }
</style>
