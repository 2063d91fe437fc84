<script lang="ts">
  /* What changed in a server's list: tools that came, went, or read otherwise now. */
  import type { ListChange } from "../api/client";
  import Differences from "../values/Differences.svelte";

  let { changes }: { changes: ListChange[] } = $props();
</script>

<ul class="mt-0.5 mb-1.5 text-sm" data-testid="changes">
  {#each changes as change (change.tool)}
    <li>
      {#if change.kind === "changed"}
        <details>
          <summary class="wrap-anywhere cursor-pointer">
            <b>{change.tool}</b> changed in
            <span class="mono">{change.what.map((w) => w.where).join(", ")}</span>
          </summary>
          <Differences what={change.what} />
        </details>
      {:else}
        <b>{change.tool}</b>
        {change.kind === "new" ? "is new" : "is gone"}
      {/if}
    </li>
  {/each}
</ul>
