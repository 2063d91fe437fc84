<script lang="ts">
  /* The expected calls of one part as their partial order: a call stands below what must be
     answered before it; a dashed line is the way of a value. */
  import type { CallPicture } from "../api/client";
  import { edgesOf, rowsOf, type Edge } from "./partial";

  interface Props {
    calls: CallPicture[];
    order: string[][];
    ongoto: (line: number) => void;
  }
  let { calls, order, ongoto }: Props = $props();

  const edges = $derived(edgesOf(calls, order));
  const rows = $derived(rowsOf(calls, edges));
  let box = $state<HTMLDivElement | null>(null);
  let width = $state(0);
  let height = $state(0);
  let lines = $state.raw<{ edge: Edge; path: string }[]>([]);

  // Lines are drawn where the browser has put the cards.
  $effect(() => {
    void width;
    void height;
    const drawn = edges;
    if (!box) return;
    const around = box.getBoundingClientRect();
    const at = (name: string) =>
      box?.querySelector(`[data-call="${CSS.escape(name)}"]`)?.getBoundingClientRect();
    const kinds = new Set(drawn.map((e) => `${e.from} ${e.to} ${e.kind}`));
    lines = drawn.flatMap((edge) => {
      const [a, b] = [at(edge.from), at(edge.to)];
      if (!a || !b) return [];
      const both = kinds.has(`${edge.from} ${edge.to} order`) && edge.kind === "value";
      const shift = both ? 7 : 0;
      const x1 = a.left - around.left + a.width / 2 + shift;
      const x2 = b.left - around.left + b.width / 2 + shift;
      const y1 = a.bottom - around.top;
      const y2 = b.top - around.top - 1;
      const bend = Math.max(6, (y2 - y1) / 2);
      return [{ edge, path: `M${x1} ${y1}C${x1} ${y1 + bend} ${x2} ${y2 - bend} ${x2} ${y2}` }];
    });
  });

  function needs(call: CallPicture): string[] {
    return [
      ...(call.by ? [`by ${call.by}`] : []),
      ...(call.after_grant ? [`after the go-ahead ${call.after_grant}`] : []),
      ...(call.approval === "approve" ? ["approved first"] : []),
      ...(call.as_approved ? ["exactly as approved"] : []),
      ...(call.only_args ? ["no other arguments"] : []),
      ...(call.often ? [call.often] : []),
      ...(call.optional ? ["optional"] : []),
    ];
  }
</script>

<div class="calls" bind:this={box} bind:clientWidth={width} bind:clientHeight={height}>
  <svg {width} {height} aria-hidden="true">
    {#each lines as { edge, path }, i (i)}
      <path d={path} class={edge.kind} />
      {@const end = path.split(" ").slice(-2)}
      <path
        d={`M${Number(end[0]) - 3.5} ${Number(end[1]) - 6}L${end[0]} ${end[1]}L${Number(end[0]) + 3.5} ${Number(end[1]) - 6}`}
      />
    {/each}
  </svg>
  {#each rows as row, i (i)}
    <ol class="row">
      {#each row as call (call.name)}
        <li class="flex flex-[1_1_140px] min-w-0 max-w-full">
          <button
            class={["card", { optional: call.optional }]}
            data-call={call.name}
            onclick={() => ongoto(call.line)}
            title={`${call.tool}, line ${call.line}`}
          >
            <span class="name">{call.name}</span>
            <span class="soft tool">{call.tool}</span>
            {#each call.args as arg (arg.name)}
              <span class="arg">
                <span class="soft">{arg.name}</span>
                <span class={{ flows: arg.sources.length > 0 }}>{arg.description}</span>
              </span>
            {/each}
            {#if needs(call).length}<span class="needs">{needs(call).join(", ")}</span>{/if}
          </button>
        </li>
      {/each}
    </ol>
  {/each}
</div>

<style>
  .calls {
    position: relative;
  }
  svg {
    position: absolute;
    inset: 0;
    pointer-events: none;
  }
  svg path {
    fill: none;
    stroke: var(--soft);
    stroke-width: 1.2;
  }
  svg .value {
    stroke-dasharray: 3 3;
  }
  .row {
    position: relative;
    list-style: none;
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin: 0;
    padding: 0;
  }
  .row + .row {
    margin-top: 22px;
  }

  .card {
    flex: 1;
    min-width: 0;
    text-align: left;
    background: var(--raised);
    border: 1px solid var(--line);
    border-left: 3px solid var(--holds);
    padding: 4px 8px 5px;
    color: inherit;
    cursor: pointer;
    font-size: 12.5px;
    overflow-wrap: anywhere;
    align-self: flex-start;
  }
  .card:hover {
    border-color: var(--soft);
  }
  .optional {
    border-style: dashed;
  }
  .name {
    font-weight: 600;
    margin-right: 6px;
  }
  .tool {
    font-size: 11px;
  }
  .arg {
    display: grid;
    grid-template-columns: minmax(46px, auto) 1fr;
    gap: 8px;
  }
  .flows {
    text-decoration: underline dashed 1px;
    text-underline-offset: 3px;
    text-decoration-color: var(--soft);
  }
  .needs {
    display: block;
    color: var(--doubt);
    font-size: 11px;
    margin-top: 1px;
  }
</style>
