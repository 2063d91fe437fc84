<script lang="ts">
  /* Well: filled. Doubtful: hollow. Broken: with a break. */
  let { ok }: { ok: boolean | null } = $props();
  const label = $derived(ok ? "well" : ok === null ? "doubtful" : "broken");
</script>

<svg width="11" height="11" viewBox="0 0 11 11" role="img" aria-label={label}>
  {#if ok}
    <path d="M1.5 1.5h8v8h-8z" fill="var(--holds)" />
  {:else if ok === null}
    <path d="M2 2h7v7h-7z" fill="none" stroke="var(--doubt)" stroke-width="1.6" />
  {:else}
    <path d="M1.5 1.5h8l-4 4 4 4h-8z" fill="var(--broke)" />
  {/if}
</svg>
