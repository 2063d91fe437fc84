<script lang="ts">
  /* What is being read, in place of it. */
  import type { Snippet } from "svelte";

  let { children }: { children: Snippet } = $props();
</script>

<p class="px-4.5 py-10 text-soft" aria-live="polite">{@render children()}</p>
