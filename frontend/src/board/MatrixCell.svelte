<script lang="ts">
  /* One task against one agent. Where all passed it keeps quiet, so that the rest is seen. */
  import type { Cell } from "../api/client";
  import { counted, percent } from "../values/text";
  import Comb from "./Comb.svelte";
  import Pips from "./Pips.svelte";

  interface Props {
    cell: Cell;
    dense: boolean;
    going: boolean;
    open: boolean;
    /** Why it is known to fail, if it is. */
    known?: string | undefined;
    ontoggle: () => void;
  }
  let { cell, dense, going, open, known, ontoggle }: Props = $props();
  const calm = $derived(cell.n > 0 && cell.passes === cell.n && !cell.errors);
  /** What the button shows, with which its name begins. */
  const seen = $derived(cell.n ? `${cell.passes}/${cell.n}` : cell.unjudged ? "– not judged" : "–");
  const busy = $derived(cell.running + cell.waiting > 0 && going);

  const summary = $derived.by(() => {
    const interval = cell.interval
      ? `; 95 % interval ${percent(cell.interval[0])} to ${percent(cell.interval[1])} (Wilson)`
      : "";
    const errors = cell.errors ? `; ${cell.errors} could not run` : "";
    const aside = cell.unjudged
      ? `${counted(cell.unjudged, "trial")} not judged: nothing is demanded`
      : "";
    if (!cell.n && aside) return aside + errors;
    const excuse = known === undefined ? "" : `; known: ${known}`;
    return `${cell.passes} of ${counted(cell.n, "trial")} passed${interval}${errors}${aside ? `; ${aside}` : ""}${excuse}`;
  });
</script>

<button
  class={{ dense, calm }}
  onclick={ontoggle}
  title={summary}
  aria-expanded={open}
  aria-label={`${seen}: ${cell.task}, ${cell.agent}: ${summary}`}
  data-cell={`${cell.suite}/${cell.task}/${cell.agent}`}
>
  <span class="rate">
    {#if cell.n}
      <strong>{cell.passes}</strong><span class="soft">/{cell.n}</span>
    {:else}
      <span class="soft">–</span>
    {/if}
  </span>
  {#if !dense || busy || cell.errors}<Pips {cell} {going} />{/if}
  <span class="comb">
    {#if known !== undefined}<span class="soft">known</span>{/if}
    {#if cell.n && !(dense && (calm || known !== undefined))}<Comb comb={cell.comb} small={dense} />
    {:else if !cell.n && cell.unjudged}<span class="soft">not judged</span>{/if}
  </span>
</button>

<style>
  button {
    display: grid;
    grid-template-columns: 44px 1fr auto;
    align-items: center;
    gap: 8px;
    width: 100%;
    min-width: 196px;
    min-height: 46px;
    padding: 4px 12px;
    cursor: pointer;
    text-align: left;
  }
  .dense {
    grid-template-columns: 34px auto 1fr;
    min-width: 96px;
    min-height: 24px;
    padding: 0 8px;
    gap: 6px;
  }
  button:hover {
    background: var(--sheet);
  }
  .rate {
    text-align: right;
    font-size: 14px;
  }
  .dense .rate {
    font-size: 12.5px;
  }
  .dense.calm strong {
    font-weight: 400;
    color: var(--holds);
  }
  .comb {
    grid-column: 3;
  }
  .soft {
    white-space: nowrap;
  }
</style>
