<script lang="ts">
  /* Look-alikes as an ordered matrix: the darker a square, the more alike two tools read. */
  import type { Server } from "../api/client";

  let { server }: { server: Server } = $props();
  const ROOM = 520;
  const LABEL = 150;
  const FEW = 60;

  let over = $state.raw<[number, number] | null>(null);
  const size = $derived(server.order.length);
  const step = $derived(Math.max(2, Math.min(26, (ROOM - LABEL) / Math.max(1, size))));
  const named = $derived(size <= FEW && step >= 8);
  const left = $derived(named ? LABEL : 8);

  function cut(name: string): string {
    return name.length > 22 ? `${name.slice(0, 21)}…` : name;
  }
</script>

<div class="wording" data-testid="wording">
  <figure>
    <svg
      width={left + size * step + 4}
      height={size * step + 8}
      role="img"
      aria-label="How alike the tools read, the alike beside each other"
      onmouseleave={() => (over = null)}
    >
      {#each server.matrix as row, i (i)}
        {#if named}
          <text
            x={left - 6}
            y={i * step + step / 2 + 8}
            text-anchor="end"
            class={{ strong: over?.includes(i) }}>{cut(server.order[i] ?? "")}</text
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
              <title>{server.order[i]} and {server.order[j]}: {like.toFixed(2)}</title>
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
    <figcaption class="soft">
      Likeness of names, descriptions and arguments, on paper; alike tools stand together.
    </figcaption>
  </figure>

  <div class="lists">
    <h2>Pairs that look alike</h2>
    {#each server.pairs as pair (`${pair.one} ${pair.other}`)}
      <p>
        <b>{pair.one}</b> and <b>{pair.other}</b>
        <span class="soft">{pair.likeness.toFixed(2)}</span><br />
        <span class="soft">
          told apart by {pair.only_one.join(", ") || "nothing"} against {pair.only_other.join(
            ", ",
          ) || "nothing"}
        </span>
      </p>
    {:else}
      <p class="soft">None.</p>
    {/each}
    <h2>Remarks on the definitions</h2>
    {#each server.remarks as remark, i (i)}
      <p><b>{remark.tool}</b> <span class="soft">{remark.message}</span></p>
    {:else}
      <p class="soft">None: every tool and argument is described and typed.</p>
    {/each}
  </div>
</div>

<style>
  .wording {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 28px;
    flex: 1;
    min-height: 0;
    padding-top: 12px;
  }
  figure {
    margin: 0;
    overflow: auto;
  }
  svg {
    font-size: 12px;
    display: block;
  }
  text {
    fill: var(--ink);
  }
  .strong {
    font-weight: 650;
  }
  figcaption {
    max-width: 420px;
    font-size: 12.5px;
    padding: 8px 0;
  }
  .lists {
    overflow: auto;
    padding-bottom: 14px;
  }
  h2 {
    font-size: 13px;
    font-weight: 600;
    margin: 0 0 4px;
  }
  p {
    margin: 0 0 6px;
  }
  p + h2 {
    margin-top: 14px;
  }
</style>
