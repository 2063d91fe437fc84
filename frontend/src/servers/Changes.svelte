<script lang="ts">
  /* What changed in a server's list: tools that came, went, or read otherwise now. */
  import type { ListChange } from "../api/client";
  import Differences from "../values/Differences.svelte";

  let { changes }: { changes: ListChange[] } = $props();
</script>

<ul data-testid="changes">
  {#each changes as change (change.tool)}
    <li>
      {#if change.kind === "changed"}
        <details>
          <summary>
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

<style>
  ul {
    margin: 2px 0 6px;
    padding-left: 0;
    list-style: none;
    font-size: 12.5px;
  }
  summary {
    cursor: pointer;
    overflow-wrap: anywhere;
  }
</style>
