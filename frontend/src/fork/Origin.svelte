<script lang="ts">
  /* Of a fork: which trial it goes on from, and what of that one's past was not as it had been. */
  import type { TrialView } from "../api/trace";

  let { view }: { view: TrialView } = $props();
  const fork = $derived(view.trace.fork);
</script>

{#if fork}
  <p class="mb-1 text-sm" data-testid="fork-origin">
    Goes on from {fork.at} of
    <a href={`/trial/${fork.trial}?call=${fork.at}`}>trial {fork.trial}</a>, {fork.change}{fork.t ===
    null
      ? "; it never got there"
      : ""}.
    <a href={`/compare?view=trials&a=${fork.trial}&b=${view.trial.id}`}>Side by side</a>
    {#if fork.not_repeated.length}
      <span class="text-doubt"
        >The calls before were not made again at {fork.not_repeated.join(", ")}.</span
      >
    {/if}
    {#each fork.unlike as line (line)}
      <span class="text-doubt">A mock was not in the state that it had been in: {line}</span>
    {/each}
  </p>
{/if}
