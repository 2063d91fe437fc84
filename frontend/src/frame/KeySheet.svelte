<script lang="ts">
  /* The keys of the place, and those that serve everywhere. */
  import Dialog from "../kit/Dialog.svelte";
  import { keyName, keys } from "./keys.svelte";

  let { onclose }: { onclose: () => void } = $props();
  const EVERYWHERE: [string, string][] = [
    ["Ctrl K", "goes to anything by its name, and does the common acts"],
    ["↑ ↓", "move within a list or the board"],
    ["Esc", "closes what is open"],
    ["?", "shows this"],
  ];
</script>

<Dialog title="Keys" {onclose}>
  {#if keys.here.length}
    <h3 class="mt-0">Here</h3>
    <dl>
      {#each keys.here as one (one.key)}
        <dt><kbd class="ml-0">{keyName(one.key)}</kbd></dt>
        <dd>{one.does}</dd>
      {/each}
    </dl>
  {/if}
  <h3>Everywhere</h3>
  <dl>
    {#each EVERYWHERE as [key, does] (key)}
      <dt><kbd class="ml-0">{key}</kbd></dt>
      <dd>{does}</dd>
    {/each}
  </dl>
</Dialog>
