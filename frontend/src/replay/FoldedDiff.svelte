<script lang="ts">
  /* Both sides of a difference as it was folded: what was in the stored trial, what is now. */
  import Button from "../kit/Button.svelte";

  let { lines }: { lines: string[] } = $props();
  const MOST = 60;
  let all = $state(false);
  const shown = $derived(all ? lines : lines.slice(0, MOST));
</script>

<div class="mono whitespace-pre-wrap wrap-anywhere" data-testid="folded">
  {#each shown as line, i (i)}
    <div class={{ went: line.startsWith("-"), came: line.startsWith("+") }}>
      {line.replace(/^-/, "−")}
    </div>
  {/each}
</div>
{#if shown.length < lines.length}
  <Button kind="link" onclick={() => (all = true)}>all {lines.length} lines</Button>
{/if}

<style>
  .went {
    background: var(--broke-wash);
  }
  .came {
    background: var(--holds-wash);
  }
</style>
