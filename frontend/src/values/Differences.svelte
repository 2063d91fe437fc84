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
  <thead
    ><tr
      ><th class="font-medium text-soft text-left">where</th><th
        class="font-medium text-soft text-left">{old}</th
      ><th class="font-medium text-soft text-left">{now}</th></tr
    ></thead
  >
  <tbody>
    {#each whole ? what : what.slice(0, MANY) as one, i (i)}
      <tr>
        <td class="mono py-0.5 pr-2.5 pl-0 border-t border-t-faint wrap-anywhere align-top"
          >{one.where || "/"}</td
        >
        <td class="py-0.5 pr-2.5 pl-0 border-t border-t-faint wrap-anywhere text-soft align-top">
          {#if one.before === undefined || one.before === null}<span class="soft">nothing</span>
          {:else}<Value value={one.before as Json} />{/if}
        </td>
        <td class="new py-0.5 pr-2.5 pl-0 border-t border-t-faint wrap-anywhere align-top">
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
  th:first-child {
    width: 30%;
  }
</style>
