<script lang="ts">
  /* Everything a server offers in one searchable list, and the chosen tool beside it. */
  import { address } from "../address.svelte";
  import type { Server } from "../api/client";
  import ToolPanel from "./ToolPanel.svelte";
  import { counted } from "../values/told";

  let { server, onchanged }: { server: Server; onchanged: () => void } = $props();

  type Tool = Server["tools"][number];
  let search = $state("");
  const tool = $derived(server.tools.find((t) => t["name"] === address.query.get("tool")) ?? null);
  const shown = $derived(
    server.tools.filter((t) =>
      `${t["name"]} ${t["description"] ?? ""}`.toLowerCase().includes(search.toLowerCase()),
    ),
  );
  const costs = $derived(
    new Map(server.tools.map((t, i) => [t["name"], server.costs[i] ?? 0] as const)),
  );
  const remarked = $derived(new Set(server.remarks.map((r) => r.tool)));

  function required(t: Tool): string[] {
    return (t["inputSchema"] as { required?: string[] } | undefined)?.required ?? [];
  }

  function optional(t: Tool): string[] {
    const schema = t["inputSchema"] as { properties?: object } | undefined;
    const needed = required(t);
    return Object.keys(schema?.properties ?? {}).filter((n) => !needed.includes(n));
  }
</script>

<div class="halves">
  <div class="list">
    <input
      type="search"
      placeholder={`Search ${counted(server.tools.length, "tool")} by name and description`}
      aria-label="Search the tools"
      bind:value={search}
    />
    <ul class="tools" data-testid="tools">
      {#each shown as t (t["name"])}
        {@const reads = server.shown[String(t["name"])]}
        <li>
          <button aria-pressed={tool === t} onclick={() => address.mark("tool", String(t["name"]))}>
            <span class="name">
              {t["name"]}
              {#if reads && reads["name"] !== t["name"]}<span class="reads" title="what agents read"
                  >→ {reads["name"]}</span
                >{/if}
            </span>
            <span class="args">
              {#each required(t) as argument (argument)}<b>{argument}</b>&nbsp;{/each}
              <span class="soft">{optional(t).join(" ")}</span>
            </span>
            <span class="soft cost" title="Tokens of context, estimated"
              >{costs.get(t["name"])}</span
            >
            <span class="soft told">
              {#if remarked.has(String(t["name"]))}<span
                  class="doubt"
                  title="There are remarks under Wording">remarked ·</span
                >{/if}
              {#if reads}<span class="reads">reworded ·</span>{/if}
              {reads?.["description"] ?? t["description"] ?? "(no description)"}
            </span>
          </button>
        </li>
      {:else}
        <li class="soft none">
          {server.tools.length ? "No tool matches." : "This server offers no tools."}
        </li>
      {/each}
    </ul>
  </div>
  <div class="panel">
    {#if tool}
      {#key `${server.server} ${server.mode} ${String(tool["name"])}`}
        <ToolPanel {server} {tool} {onchanged} />
      {/key}
    {:else}
      <p class="soft">Choose a tool to read its definition and try a call.</p>
      {#if server.instructions}
        <h2>What the server tells every client</h2>
        <p class="instructions">{server.instructions}</p>
      {/if}
    {/if}
  </div>
</div>

<style>
  h2 {
    font-size: 13px;
    font-weight: 600;
    margin: 14px 0 4px;
  }
  .halves {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    flex: 1;
    min-height: 0;
  }
  .tools,
  .panel {
    overflow: auto;
    margin: 0;
    padding: 6px 14px 14px 0;
    list-style: none;
  }
  .panel {
    padding-left: 14px;
    border-left: 1px solid var(--line);
  }
  .tools button {
    display: grid;
    grid-template-columns: auto 1fr auto;
    gap: 0 10px;
    width: 100%;
    padding: 4px 8px;
    background: none;
    border: 0;
    border-bottom: 1px solid var(--faint);
    color: inherit;
    text-align: left;
    cursor: pointer;
  }
  .tools button:hover,
  .tools button[aria-pressed="true"] {
    background: var(--sheet);
  }
  .tools button[aria-pressed="true"] {
    box-shadow: inset 3px 0 var(--iron);
  }
  .args {
    font-size: 12.5px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .args b {
    font-weight: 600;
  }
  .told {
    grid-column: 1 / -1;
    font-size: 12.5px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .none {
    padding: 14px 8px;
  }
  .list {
    display: flex;
    flex-direction: column;
    min-height: 0;
    padding-top: 8px;
  }
  input {
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--raised);
    color: var(--ink);
    padding: 3px 9px;
    font-size: 13px;
    margin-right: 14px;
  }
  .name {
    font-weight: 550;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .reads {
    color: var(--iron);
    font-weight: 400;
  }
  .doubt {
    color: var(--doubt);
  }
  .instructions {
    white-space: pre-wrap;
  }
</style>
