<script lang="ts">
  /* What a call brought: its value, and the images, sounds and resources beside it. */
  import type { CallEvent } from "../api/trace";
  import Content from "./Content.svelte";
  import Value from "./Value.svelte";

  let { event, depth = 2 }: { event: CallEvent; depth?: number } = $props();
  const content = $derived(event.content ?? []);
  // Text beside structure says the same once more.
  const structured = $derived(typeof event.result === "object" && event.result !== null);
  const blocks = $derived(structured ? content.filter((b) => b["type"] !== "text") : content);
</script>

{#if structured || !content.length}<Value value={event.result} {depth} />{/if}
{#each blocks as block, i (i)}<Content {block} />{/each}
