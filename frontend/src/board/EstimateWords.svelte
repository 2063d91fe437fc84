<script lang="ts">
  /* What a run would take and reach, in words. Nothing is said of what never ran. */
  import type { Estimate } from "../api/client";
  import Sentence from "../values/Sentence.svelte";
  import { counted, span, grouped } from "../values/text";

  let { found }: { found: Estimate } = $props();

  const round = (n: number) => grouped(Number(n.toPrecision(2)));
  const tokens = $derived(
    found.tokens_in === null
      ? "tokens not known"
      : `${round(found.tokens_in)} tokens in, ${round(found.tokens_out ?? 0)} out`,
  );
  /** What it would cost; nothing is said where every model answers by itself. */
  const money = $derived.by(() => {
    const sums = Object.entries(found.money);
    const known = sums.map(([currency, sum]) => `${currency} ${sum.toFixed(2)}`).join(" and ");
    const unknown = found.unpriced.length
      ? `${known ? "and " : ""}what ${found.unpriced.join(", ")} costs is not known`
      : "";
    return [known, unknown].filter(Boolean).join(" ");
  });
  const basis = $derived.by(() => {
    if (!found.known) return "None of this has run yet, so there is no estimate.";
    const rest = found.cells - found.known;
    return rest
      ? `by their last run; ${counted(rest, "cell has", "cells have")} not run yet and count like the others`
      : "by their last run";
  });
</script>

<p>
  {#if found.seconds !== null}
    About <b>{span(found.seconds)}</b>, {tokens},
  {:else if found.known}
    How long is up to the cluster; {tokens},
  {/if}
  {#if money}{money};{/if}
  <span class="soft">{basis}</span>
</p>
{#each found.live as server (server.server + server.mode)}
  <p class="text-doubt">
    Reaches {server.server} for real ({server.mode}):
    {server.may_write === null
      ? "what it writes is not known, its tools have never been seen"
      : server.may_write
        ? `${counted(server.may_write, "tool")} of it may write`
        : "all its tools say that they only read"}
  </p>
{/each}
{#each found.warnings as words (words)}
  <p class="text-doubt"><Sentence {words} />.</p>
{/each}
