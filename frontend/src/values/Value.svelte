<script lang="ts">
  /* A JSON value as a person reads it: tables as tables, the rest as a tree, long text folded. */
  import type { Json } from "./json";
  import Value from "./Value.svelte";
  import { counted, grouped } from "./text";
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
  <div class="overflow-x-auto">
    <Table>
      <thead>
        <tr
          >{#each columns as column (column)}<th
              class="py-px pr-3 pl-0 border-b border-b-line whitespace-nowrap font-medium text-soft text-left"
              scope="col">{column}</th
            >{/each}</tr
        >
      </thead>
      <tbody>
        {#each whole ? rows : rows.slice(0, MANY) as row, i (i)}
          <tr>
            {#each columns as column (column)}
              <td
                class={[
                  "py-px pr-3 pl-0 whitespace-nowrap text-left",
                  { number: typeof row[column] === "number" },
                ]}
              >
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
        <dd class="min-w-0"><Value value={item} depth={depth + 1} /></dd>
      {/each}
    </dl>
    {#if entries.length > MANY && !whole}
      <Button kind="link" onclick={() => (whole = true)}
        >all {counted(entries.length, "entry", "entries")}</Button
      >
    {/if}
  {/if}
{:else}
  <span class="mono whitespace-pre-wrap wrap-anywhere"
    >{whole || (written ?? "").length <= LONG ? written : `${written?.slice(0, LONG)}…`}</span
  >
  {#if (written ?? "").length > LONG && !whole}
    <Button kind="link" onclick={() => (whole = true)}>
      all {grouped(written?.length ?? 0)} characters
    </Button>
  {/if}
{/if}

<style>
  .number {
    text-align: right;
  }

  .inner {
    border-left: 1px solid var(--line);
    padding-left: 8px;
  }
</style>
