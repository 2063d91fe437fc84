<script lang="ts">
  /* A comb: one tooth a family, as long as its score. A family that was not tested has none. */
  import type { Cell } from "../api/client";

  let { comb, small = false }: { comb: Cell["comb"]; small?: boolean } = $props();
  const STEP = $derived(small ? 7 : 11);
  const LONG = $derived(small ? 11 : 17);

  function tone(score: number): string {
    return score >= 1 ? "holds" : score >= 0.5 ? "doubt" : "broke";
  }
  /** The teeth of each tone as one path: a large board has thousands of combs. */
  const teeth = $derived.by(() => {
    const paths = { all: "", holds: "", doubt: "", broke: "" } as Record<string, string>;
    for (const [i, { score }] of comb.entries()) {
      if (score === null) continue;
      const x = i * STEP + STEP / 2;
      paths.all += `M${x} 2V${LONG + 3}`;
      paths[tone(score)] += `M${x} 2V${3 + Math.max(2, score * LONG)}`;
    }
    return paths;
  });
  const summary = $derived(
    comb
      .map((t) => `${t.family} ${t.score === null ? "not tested" : t.score.toFixed(2)}`)
      .join(", "),
  );
</script>

<svg width={comb.length * STEP + 2} height={LONG + 6} role="img" aria-label={summary}>
  <title>{summary}</title>
  <path d={`M0 1.5h${comb.length * STEP}`} stroke="var(--soft)" stroke-width="1.5" />
  <path d={teeth.all} stroke="var(--line)" stroke-width="1" />
  {#each ["holds", "doubt", "broke"] as tone (tone)}
    {#if teeth[tone]}<path class={tone} d={teeth[tone]} stroke-width={small ? 4 : 5} />{/if}
  {/each}
</svg>

<style>
  svg {
    display: block;
  }
  .holds {
    stroke: var(--holds);
  }
  .doubt {
    stroke: var(--doubt);
  }
  .broke {
    stroke: var(--broke);
  }
</style>
