<script lang="ts">
  /* A JSON value as a person reads it: tables as tables, the rest as a tree, long text folded. */
  import type { Json } from "./json";
  import Value from "./Value.svelte";
  import { counted } from "./text";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";

  let { value, depth = 0 }: { value: Json | undefined; depth?: number } = $props();
  const LONG = 400;
  const MANY = 50;
  let whole = $state(false);

  const isRecord = (v: unknown): v is Record<string, Json> =>
    typeof v === "object" && v !== null && !Array.isArray(v);
  const flat = (v: Json) => typeof v !== "object" || v === null;
  const rows = $derived(
    Array.isArray(value) && value.length > 0 && value.every(isRecord)
      ? (value as Record<string, Json>[])
      : null,
  );
  const columns = $derived(rows ? [...new Set(rows.flatMap((r) => Object.keys(r)))] : []);
  const table = $derived(
    rows !== null && columns.length <= 10 && rows.every((r) => Object.values(r).every(flat)),
  );
  const written = $derived(typeof value === "string" ? value : JSON.stringify(value));
</script>

{#if value === undefined}
  <span class="soft">not given</span>
{:else if table && rows}
  <div class="wide">
    <Table>
      <thead>
        <tr
          >{#each columns as column (column)}<th scope="col">{column}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each whole ? rows : rows.slice(0, MANY) as row, i (i)}
          <tr>
            {#each columns as column (column)}
              <td class={{ number: typeof row[column] === "number" }}>
                {row[column] === undefined
                  ? ""
                  : typeof row[column] === "string"
                    ? row[column]
                    : JSON.stringify(row[column])}
              </td>
            {/each}
          </tr>
        {/each}
      </tbody>
    </Table>
  </div>
  {#if rows.length > MANY && !whole}
    <Button kind="link" onclick={() => (whole = true)}>all {counted(rows.length, "row")}</Button>
  {/if}
{:else if Array.isArray(value) || isRecord(value)}
  {@const entries = Object.entries(value)}
  {#if entries.length === 0}
    <span class="mono">{Array.isArray(value) ? "[]" : "{}"}</span>
  {:else}
    <dl class={{ inner: depth > 0 }}>
      {#each whole ? entries : entries.slice(0, MANY) as [key, item] (key)}
        <dt>{key}</dt>
        <dd><Value value={item} depth={depth + 1} /></dd>
      {/each}
    </dl>
    {#if entries.length > MANY && !whole}
      <Button kind="link" onclick={() => (whole = true)}
        >all {counted(entries.length, "entry", "entries")}</Button
      >
    {/if}
  {/if}
{:else}
  <span class="mono text"
    >{whole || (written ?? "").length <= LONG ? written : `${written?.slice(0, LONG)}…`}</span
  >
  {#if (written ?? "").length > LONG && !whole}
    <Button kind="link" onclick={() => (whole = true)}>
      all {written?.length.toLocaleString("en-GB")} characters
    </Button>
  {/if}
{/if}

<style>
  .wide {
    overflow-x: auto;
  }
  th,
  td {
    text-align: left;
    padding: 1px 12px 1px 0;
    white-space: nowrap;
  }
  th {
    font-weight: 500;
    color: var(--soft);
    border-bottom: 1px solid var(--line);
  }
  .number {
    text-align: right;
  }
  dl {
    display: grid;
    grid-template-columns: auto 1fr;
    gap: 1px 12px;
    margin: 0;
  }
  .inner {
    border-left: 1px solid var(--line);
    padding-left: 8px;
  }
  dt {
    color: var(--soft);
  }
  dd {
    margin: 0;
    min-width: 0;
  }
  .text {
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
</style>
