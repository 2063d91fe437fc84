<script lang="ts">
  /* What a call brought: its content, what went wrong, what it changed. */
  import type { Json } from "../values/json";
  import Content from "../values/Content.svelte";
  import Value from "../values/Value.svelte";

  interface Props {
    content: Record<string, unknown>[];
    structured: unknown;
    error: string | null;
  }
  let { content, structured, error }: Props = $props();
  const hasStructure = $derived(structured !== null && structured !== undefined);
  const others = $derived(hasStructure ? content.filter((b) => b["type"] !== "text") : content);
</script>

{#if error}
  <p class="mt-0.5 mb-2 whitespace-pre-wrap wrap-anywhere text-broke">{error}</p>
{/if}
{#if hasStructure}<Value value={structured as Json} />{/if}
{#if !error}
  {#each others as block, i (i)}
    <div class="mb-1.5"><Content {block} /></div>
  {:else}
    {#if !hasStructure}<p class="soft">It answered with nothing at all.</p>{/if}
  {/each}
{/if}
