<script lang="ts">
  /* Where two values differ: the place, what stood there, what stands there now. */
  import type { Json } from "./json";
  import Value from "./Value.svelte";
  import { counted } from "./text";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";

  interface Props {
    what: { where: string; before?: unknown; after?: unknown }[];
    old?: string;
    now?: string;
  }
  let { what, old = "before", now = "now" }: Props = $props();
  const MANY = 12;
  let whole = $state(false);
</script>

<Table fixed data-testid="differences">
  <thead><tr><th>where</th><th>{old}</th><th>{now}</th></tr></thead>
  <tbody>
    {#each whole ? what : what.slice(0, MANY) as one, i (i)}
      <tr>
        <td class="mono">{one.where || "/"}</td>
        <td class="old">
          {#if one.before === undefined || one.before === null}<span class="soft">nothing</span>
          {:else}<Value value={one.before as Json} />{/if}
        </td>
        <td class="new">
          {#if one.after === undefined || one.after === null}<span class="soft">nothing</span>
          {:else}<Value value={one.after as Json} />{/if}
        </td>
      </tr>
    {/each}
  </tbody>
</Table>
{#if what.length > MANY && !whole}
  <Button kind="link" onclick={() => (whole = true)}>all {counted(what.length, "place")}</Button>
{/if}

<style>
  th {
    text-align: left;
    font-weight: 500;
    color: var(--soft);
  }
  th:first-child {
    width: 30%;
  }
  td {
    vertical-align: top;
    padding: 2px 10px 2px 0;
    border-top: 1px solid var(--faint);
    overflow-wrap: anywhere;
  }
  .old {
    color: var(--soft);
  }
</style>
