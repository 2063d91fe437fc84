<script lang="ts">
  /* One pip a trial: filled passed, notched failed, barred could not run, hollow to come. */
  import type { Cell } from "../api/client";

  type Counts = Pick<Cell, "passes" | "n" | "errors" | "running" | "waiting">;
  let { cell, going }: { cell: Counts; going: boolean } = $props();
  const MOST = 12;
  const pips = $derived([
    ...Array<string>(cell.passes).fill("pass"),
    ...Array<string>(cell.n - cell.passes).fill("fail"),
    ...Array<string>(cell.errors).fill("error"),
    ...Array<string>(going ? cell.running : 0).fill("running"),
    ...Array<string>(cell.waiting + (going ? 0 : cell.running)).fill("waiting"),
  ]);
</script>

{#if pips.length <= MOST}
  <svg width={pips.length * 10} height="9" aria-hidden="true">
    {#each pips as pip, i (i)}
      <g transform={`translate(${i * 10} 0)`} class={pip}>
        {#if pip === "pass"}
          <path d="M.5.5h8v8h-8z" />
        {:else if pip === "fail"}
          <path d="M.5.5h8L4.5 4.5l4 4h-8z" />
        {:else if pip === "error"}
          <path d="M.5 3.5h8v2h-8z" />
        {:else}
          <path d="M1 1h7v7H1z" fill="none" stroke="var(--soft)" />
        {/if}
      </g>
    {/each}
  </svg>
{/if}

<style>
  .pass {
    fill: var(--holds);
  }
  .fail {
    fill: var(--broke);
  }
  .error {
    fill: var(--doubt);
  }
  .running path {
    stroke: var(--iron);
    stroke-width: 2;
    animation: moving 1.1s infinite;
  }
</style>
