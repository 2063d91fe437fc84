<script lang="ts">
  /* Look-alikes as an ordered matrix: the darker a square, the more alike two tools read. */
  import { api, ask, type Server, type WordingReport } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import { counted, grouped } from "../values/text";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";

  let { server }: { server: Server } = $props();
  const ROOM = 520;
  const LABEL = 150;
  const FEW = 60;
  const FIRST = 40;

  const NOTHING: WordingReport = {
    remarks: [],
    more_remarks: 0,
    order: [],
    matrix: [],
    pairs: [],
    tools: 0,
    alike: 0,
  };
  // Likeness is worked out only when somebody looks at it.
  const reading = new Resource<WordingReport>(() => {
    const params = { path: { server: server.server }, query: { mode: server.mode } };
    return ask(api.GET("/api/servers/{server}/wording", { params }));
  });
  const report = $derived(reading.reading ? null : reading.value);
  const read = $derived(report ?? NOTHING);

  let over = $state.raw<[number, number] | null>(null);
  const size = $derived(read.order.length);
  const step = $derived(Math.max(2, Math.min(26, (ROOM - LABEL) / Math.max(1, size))));
  const named = $derived(size <= FEW && step >= 8);
  const left = $derived(named ? LABEL : 8);

  let canvas = $state<HTMLCanvasElement | null>(null);
  let allPairs = $state(false);
  let allRemarks = $state(false);
  const pair = $derived(over ? [read.order[over[0]], read.order[over[1]]] : null);

  // Hundreds of tools are tens of thousands of squares: too many for elements of their own.
  $effect(() => {
    const paint = canvas?.getContext("2d");
    if (!canvas || !paint) return;
    const colour = getComputedStyle(canvas).getPropertyValue("--iron");
    paint.clearRect(0, 0, canvas.width, canvas.height);
    paint.fillStyle = colour;
    read.matrix.forEach((row, i) =>
      row.forEach((like, j) => {
        if (like < 0.1) return;
        paint.globalAlpha = i === j ? 0.25 : like;
        paint.fillRect(j * step, i * step, step, step);
      }),
    );
  });

  function point(event: MouseEvent) {
    const at = (pixels: number) => Math.min(size - 1, Math.max(0, Math.floor(pixels / step)));
    over = [at(event.offsetY), at(event.offsetX)];
  }

  function cut(name: string): string {
    return name.length > 22 ? `${name.slice(0, 21)}…` : name;
  }
</script>

{#if reading.fault}
  <Fault message={reading.fault} />
{:else if !report}
  <p class="soft mb-1.5" aria-live="polite">Comparing the tools…</p>
{:else}
  <div class="grid flex-1 gap-7 grid-cols-[auto_minmax(0,1fr)] min-h-0 pt-3" data-testid="wording">
    <figure class="overflow-auto">
      <figcaption class="soft max-w-105 py-2 px-0 text-sm">
        {#if pair && over}
          <b>{pair[0]}</b> and <b>{pair[1]}</b>: {(read.matrix[over[0]]?.[over[1]] ?? 0).toFixed(2)}
        {:else}
          Likeness of names, descriptions and arguments, on paper; alike tools stand together.
          {#if read.order.length < read.tools}
            The {read.order.length} most alike of {grouped(read.tools)} are shown.
          {/if}
        {/if}
      </figcaption>
      {#if !named && size > 0}
        <canvas
          bind:this={canvas}
          width={Math.ceil(size * step)}
          height={Math.ceil(size * step)}
          aria-label="How alike the tools read, the alike beside each other"
          onmousemove={point}
          onmouseleave={() => (over = null)}
        ></canvas>
      {:else}
        <svg
          width={left + size * step + 4}
          height={size * step + 8}
          role="img"
          aria-label="How alike the tools read, the alike beside each other"
          onmouseleave={() => (over = null)}
        >
          {#each read.matrix as row, i (i)}
            {#if named}
              <text
                x={left - 6}
                y={i * step + step / 2 + 8}
                text-anchor="end"
                class={{ strong: over?.includes(i) }}>{cut(read.order[i] ?? "")}</text
              >
            {/if}
            {#each row as like, j (j)}
              {#if i !== j && like >= 0.1}
                <rect
                  x={left + j * step}
                  y={i * step + 4}
                  width={step - 1}
                  height={step - 1}
                  fill="var(--iron)"
                  fill-opacity={like}
                  role="presentation"
                  onmouseenter={() => (over = [i, j])}
                >
                  <title>{read.order[i]} and {read.order[j]}: {like.toFixed(2)}</title>
                </rect>
              {:else if i === j}
                <circle
                  cx={left + j * step + step / 2 - 0.5}
                  cy={i * step + 3.5 + step / 2}
                  r={Math.min(2.5, step / 4)}
                  fill="var(--soft)"
                />
              {/if}
            {/each}
          {/each}
        </svg>
      {/if}
    </figure>

    <div class="pb-3.5 overflow-auto">
      <h2 class="mt-0">Pairs that look alike</h2>
      {#each allPairs ? read.pairs : read.pairs.slice(0, FIRST) as pair (`${pair.one} ${pair.other}`)}
        <p class="mb-1.5">
          <b>{pair.one}</b> and <b>{pair.other}</b>
          <span class="soft">{pair.likeness.toFixed(2)}</span><br />
          <span class="soft">
            told apart by {pair.only_one.join(", ") || "nothing"} against {pair.only_other.join(
              ", ",
            ) || "nothing"}
          </span>
        </p>
      {:else}
        <p class="soft mb-1.5">None.</p>
      {/each}
      {#if read.pairs.length > FIRST && !allPairs}
        <Button onclick={() => (allPairs = true)}>all {counted(read.pairs.length, "pair")}</Button>
      {/if}
      {#if read.alike > read.pairs.length && (allPairs || read.pairs.length <= FIRST)}
        <p class="soft mb-1.5">
          The most alike of {counted(read.alike, "pair")} that look alike.
        </p>
      {/if}
      <h2 class="mt-0">Remarks on the definitions</h2>
      {#each allRemarks ? read.remarks : read.remarks.slice(0, FIRST) as remark, i (i)}
        <p class="mb-1.5"><b>{remark.tool}</b> <span class="soft">{remark.message}</span></p>
      {:else}
        <p class="soft mb-1.5">None: every tool and argument is described and typed.</p>
      {/each}
      {#if read.remarks.length > FIRST && !allRemarks}
        <Button onclick={() => (allRemarks = true)}
          >all {counted(read.remarks.length, "remark")}</Button
        >
      {/if}
      {#if read.more_remarks && allRemarks}
        <p class="soft mb-1.5">and {counted(read.more_remarks, "more remark")}</p>
      {/if}
    </div>
  </div>
{/if}

<style>
  svg {
    font-size: 12.5px;
    display: block;
  }
  text {
    fill: var(--ink);
  }
  .strong {
    font-weight: 650;
  }

  p + h2 {
    margin-top: 14px;
  }
</style>
