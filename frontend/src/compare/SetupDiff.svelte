<script lang="ts">
  /* What differs in the set-up of two sides: each part's texts beside each other. */
  import { api, ask, type SetupDifference } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import TextDiff from "../values/TextDiff.svelte";

  let { a, b }: { a: string; b: string } = $props();

  const reading = new Resource(() =>
    ask(api.GET("/api/compare/setup", { params: { query: { a, b } } })),
  );
  const parts = $derived(reading.value?.parts ?? []);
  const nameOf = (part: SetupDifference) => [part.part, part.about].filter(Boolean).join(": ");
  /** A short line stands in one row; what is longer is laid out line by line. */
  const isShort = (part: SetupDifference) =>
    [part.a, part.b].every((text) => text === null || (text.length < 60 && !text.includes("\n")));
</script>

<section class="mt-1 text-sm" aria-label="What differs in the set-up" data-testid="setup-diff">
  <Fault message={reading.fault} />
  {#if reading.value && !parts.length}
    <p class="text-soft">The set-up is the same on both sides.</p>
  {:else if parts.length}
    <dl>
      {#each parts.filter(isShort) as part (nameOf(part))}
        <dt>{nameOf(part)}</dt>
        <dd>
          <span class="mono">{part.a ?? "none"}</span> <span class="text-soft">→</span>
          <span class="mono">{part.b ?? "none"}</span>
        </dd>
      {/each}
    </dl>
    {#each parts.filter((part) => !isShort(part)) as part (nameOf(part))}
      <details class="mt-0.5">
        <summary class="cursor-pointer leading-6">{nameOf(part)} differs</summary>
        <div class="my-1 max-h-72 overflow-auto border-l-2 border-l-line pl-3">
          <TextDiff before={part.a ?? ""} after={part.b ?? ""} />
        </div>
      </details>
    {/each}
  {/if}
</section>
