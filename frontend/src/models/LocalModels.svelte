<script lang="ts">
  /* Models on this machine, looked for when somebody asks for it and not before. */
  import { api, ask } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import { counted } from "../values/text";

  let { onchosen }: { onchosen: (url: string, model: string) => void } = $props();
  type Local = Awaited<ReturnType<typeof read>>;
  let local = $state.raw<Local | null>(null);
  const act = new Action();

  const read = () => ask(api.POST("/api/models/local"));
  const look = () => act.run(async () => void (local = await read()));
</script>

<div class="mt-3 text-sm">
  <Button onclick={look} disabled={act.busy}
    >{act.busy ? "Asking…" : "Look for models on this machine"}</Button
  >
  <Fault message={act.fault} />
  {#if local}
    {#if !local.found.length}
      <p class="soft mt-1.5">
        Nothing answers with a list of models at the {counted(local.asked.length, "usual port")}:
        {local.asked.join(", ")}.
      </p>
    {/if}
    {#each local.found as one (one.base_url)}
      <h3>{one.base_url}</h3>
      {#each one.models as model (model)}
        <Button kind="row" onclick={() => onchosen(one.base_url, model)}>{model}</Button>
      {:else}
        <p class="soft">It lists no model.</p>
      {/each}
    {/each}
  {:else}
    <p class="soft mt-1.5">Asks a few ports of this machine, nothing else.</p>
  {/if}
</div>
