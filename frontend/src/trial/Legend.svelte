<script lang="ts">
  /* What the signs on the tracks mean, of those that stand on them. */
  import type { Tracks } from "./tracks";

  let { tracks }: { tracks: Tracks } = $props();

  const SIGNS = $derived([
    [
      "played",
      "played back",
      tracks.bars.some((b) => b.played) || tracks.model.some((m) => m.played),
    ],
    ["held", "held by hand", tracks.held.length > 0],
    ["waited", "waited for an approval", tracks.waited.length > 0],
    ["injected", "injected by Ferox", [...tracks.bars, ...tracks.model].some((b) => b.injected)],
    ["broken", "failed", tracks.bars.some((b) => b.failed)],
    ["notch", "wrong arguments", tracks.bars.some((b) => b.badArguments)],
    ["planted", "a text that Ferox planted", tracks.planted.length > 0],
    ["lost", "proposed, never called", tracks.lost.length > 0],
  ] as const);
  const shown = $derived(SIGNS.filter(([, , stands]) => stands));
</script>

{#if shown.length}
  <ul class="flex flex-wrap gap-x-4 text-xs text-soft" aria-label="Signs" data-testid="legend">
    {#each shown as [sign, words] (sign)}
      <li class="flex items-center gap-1.5">
        <svg width="16" height="12" viewBox="0 0 16 12" aria-hidden="true">
          {#if sign === "played"}
            <path class="bar" d="M0 1h16v10H0z" />
            <path class="stripe" d="M3 1v10M7 1v10M11 1v10M15 1v10" />
          {:else if sign === "held"}
            <path class="held" d="M1 2h14v8H1z" />
          {:else if sign === "waited"}
            <path class="waited" d="M1 2h14v8H1z" />
          {:else if sign === "injected"}
            <path class="doubt" d="M3 2h10l-5 8z" />
          {:else if sign === "broken"}
            <path class="broken" d="M10 0l-4 6h5l-4 6" />
          {:else if sign === "notch"}
            <path class="doubt" d="M13 1v10L3 1z" />
          {:else if sign === "planted"}
            <path class="doubt" d="M4 11V1l8 3-8 3" />
          {:else}
            <path class="lost" d="M8 1l5 5-5 5-5-5z" />
          {/if}
        </svg>
        {words}
      </li>
    {/each}
  </ul>
{/if}

<style>
  .bar {
    fill: var(--soft);
  }
  .stripe {
    stroke: var(--ground);
    stroke-width: 2;
  }
  .held {
    fill: var(--doubt-wash);
    stroke: var(--doubt);
    stroke-dasharray: 3 2;
  }
  .waited {
    fill: var(--faint);
    stroke: var(--soft);
  }
  .doubt {
    fill: var(--doubt);
  }
  .broken {
    fill: none;
    stroke: var(--broke);
    stroke-width: 2;
  }
  .lost {
    fill: none;
    stroke: var(--soft);
    stroke-width: 1.5;
  }
</style>
