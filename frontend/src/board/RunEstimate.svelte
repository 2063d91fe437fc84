<script lang="ts">
  /* What a run would take and reach, before it starts. Nothing is said of what never ran. */
  import { api, ask, type Estimate, type RunRequest } from "../api/client";
  import { Resource, Rested } from "../api/resource.svelte";
  import EstimateWords from "./EstimateWords.svelte";

  let { request }: { request: RunRequest } = $props();
  const REST_MS = 200;

  const rested = new Rested(() => request, REST_MS);
  const reading = new Resource<Estimate>(() =>
    rested.value ? ask(api.POST("/api/runs/estimate", { body: rested.value })) : null,
  );
  const found = $derived(reading.fault ? null : reading.value);
</script>

<div class="text-sm" data-testid="estimate" aria-live="polite">
  {#if reading.fault}
    <p class="text-broke">{reading.fault}</p>
  {:else if found}
    <EstimateWords {found} />
  {/if}
</div>
