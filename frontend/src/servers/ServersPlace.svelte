<script lang="ts">
  import { address } from "../address.svelte";
  import { api, ask, type Server, type ServerLine } from "../api/client";
  import Notice from "../frame/Notice.svelte";
  import ToolPanel from "./ToolPanel.svelte";
  import Wording from "./Wording.svelte";

  let { name }: { name: string | null } = $props();

  let servers = $state.raw<ServerLine[] | null>(null);
  let server = $state.raw<Server | null>(null);
  let reaching = $state(false);
  let fault = $state("");
  let search = $state("");

  const chosen = $derived(name ?? servers?.[0]?.server ?? null);
  const mode = $derived(address.query.get("mode"));
  const view = $derived(address.query.get("view") === "wording" ? "wording" : "tools");
  const tool = $derived(server?.tools.find((t) => t["name"] === address.query.get("tool")) ?? null);
  const shown = $derived(
    (server?.tools ?? []).filter((t) =>
      `${t["name"]} ${t["description"] ?? ""}`.toLowerCase().includes(search.toLowerCase()),
    ),
  );
  const total = $derived((server?.costs ?? []).reduce((sum, c) => sum + c, 0));

  async function list() {
    try {
      servers = (await ask(api.GET("/api/servers"))).servers;
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  async function read(which: string, way: string | null) {
    reaching = true;
    try {
      const query = way ? { mode: way } : {};
      const got = await ask(
        api.GET("/api/servers/{server}", { params: { path: { server: which }, query } }),
      );
      if (which !== chosen) return;
      server = got;
      fault = "";
    } catch (error) {
      server = null;
      fault = (error as Error).message;
    }
    reaching = false;
  }

  $effect(() => {
    void list();
  });

  $effect(() => {
    if (chosen) void read(chosen, mode);
  });

  function required(t: Server["tools"][number]): string[] {
    return (t["inputSchema"] as { required?: string[] } | undefined)?.required ?? [];
  }

  function optional(t: Server["tools"][number]): string[] {
    const schema = t["inputSchema"] as { properties?: object } | undefined;
    const needed = required(t);
    return Object.keys(schema?.properties ?? {}).filter((n) => !needed.includes(n));
  }
</script>

{#if fault && !server}
  <Notice tone="broke" title="The servers cannot be shown"><p>{fault}</p></Notice>
{:else if servers && !servers.length}
  <Notice title="No tool server yet">
    <p>
      A server is a file under <span class="mono">servers/</span>: a command, an address or a mock.
    </p>
  </Notice>
{:else if !servers}
  <div class="soft loading" aria-live="polite">Reading the servers…</div>
{:else}
  <div class="place">
    <nav aria-label="Tool servers">
      {#each servers as line (line.server)}
        <a
          href={`/servers/${line.server}`}
          aria-current={line.server === chosen ? "page" : undefined}
        >
          <span class="name" title={line.title}>{line.server}</span>
          <span class="soft small">{line.modes.join(", ") || "no way in yet"}</span>
        </a>
      {/each}
    </nav>

    <section aria-label="The chosen server">
      {#if server && server.server === chosen}
        {@const here = server}
        <header>
          <h1 title={here.title}>{here.title ?? here.server}</h1>
          <div class="switch" role="group" aria-label="Way to the server">
            {#each here.modes as way (way)}
              <button aria-pressed={way === here.mode} onclick={() => address.mark("mode", way)}
                >{way}</button
              >
            {/each}
          </div>
          <span class="soft where mono" title={here.reached}>{here.reached ?? ""}</span>
          <span class="soft sum">
            {#if !here.diagnosis}
              {here.tools.length} tools, about {total.toLocaleString("en-GB")} tokens of context (estimated)
            {/if}
          </span>
          <button class="plain-button" onclick={() => read(here.server, mode)} disabled={reaching}>
            {reaching ? "Reaching…" : "Look again"}
          </button>
        </header>

        {#if here.diagnosis}
          <Notice tone="broke" title={here.diagnosis.told}>
            <p>Next: {here.diagnosis.then}.</p>
          </Notice>
        {:else}
          <div class="tabs">
            <button aria-pressed={view === "tools"} onclick={() => address.mark("view", null)}
              >Tools</button
            >
            <button
              aria-pressed={view === "wording"}
              onclick={() => address.mark("view", "wording")}
              >Wording{here.remarks.length + here.pairs.length
                ? ` · ${here.remarks.length} remarks, ${here.pairs.length} alike`
                : ""}</button
            >
            {#if here.protocol}<span class="soft small">MCP {here.protocol}</span>{/if}
            {#if view === "tools"}
              <input
                type="search"
                placeholder="Search names and descriptions"
                aria-label="Search the tools"
                bind:value={search}
              />
            {/if}
          </div>
          {#if view === "wording"}
            <Wording server={here} />
          {:else}
            <div class="halves">
              <ul class="tools" data-testid="tools">
                {#each shown as t, i (t["name"])}
                  <li>
                    <button
                      aria-pressed={tool === t}
                      onclick={() => address.mark("tool", String(t["name"]))}
                    >
                      <span class="name">{t["name"]}</span>
                      <span class="args">
                        {#each required(t) as argument (argument)}<b>{argument}</b>&nbsp;{/each}
                        <span class="soft">{optional(t).join(" ")}</span>
                      </span>
                      <span class="soft cost" title="Tokens of context, estimated"
                        >{here.costs[here.tools.indexOf(t)] ?? here.costs[i]}</span
                      >
                      <span class="soft told">{t["description"] ?? "(no description)"}</span>
                    </button>
                  </li>
                {:else}
                  <li class="soft none">
                    {here.tools.length ? "No tool matches." : "This server offers no tools."}
                  </li>
                {/each}
              </ul>
              <div class="panel">
                {#if tool}
                  {#key `${here.server} ${here.mode} ${tool["name"]}`}
                    <ToolPanel server={here} {tool} />
                  {/key}
                {:else}
                  <p class="soft">Choose a tool to read its definition and try a call.</p>
                  {#if here.variables.length}
                    <h2>Variables that this server gets</h2>
                    <dl>
                      {#each here.variables as v (v.name)}
                        <dt class="mono">{v.name}</dt>
                        <dd class="soft"><span class="mono">{v.shown}</span> from {v.origin}</dd>
                      {/each}
                    </dl>
                  {/if}
                  {#if here.resources.length}
                    <h2>Resources</h2>
                    <ul>
                      {#each here.resources as r, i (i)}
                        <li class="mono">
                          {r["uri"]} <span class="soft">{r["description"] ?? ""}</span>
                        </li>
                      {/each}
                    </ul>
                  {/if}
                  {#if here.prompts.length}
                    <h2>Prompts</h2>
                    <ul>
                      {#each here.prompts as p, i (i)}
                        <li class="mono">
                          {p["name"]} <span class="soft">{p["description"] ?? ""}</span>
                        </li>
                      {/each}
                    </ul>
                  {/if}
                {/if}
              </div>
            </div>
          {/if}
        {/if}
      {:else}
        <div class="soft loading" aria-live="polite">Reaching {chosen}…</div>
      {/if}
    </section>
  </div>
{/if}

<style>
  .loading {
    padding: 40px 18px;
  }
  .place {
    display: grid;
    grid-template-columns: 190px minmax(0, 1fr);
    height: 100%;
  }
  nav {
    border-right: 1px solid var(--line);
    padding: 10px 0;
    overflow: auto;
  }
  nav a {
    display: block;
    padding: 5px 14px 5px 18px;
    text-decoration: none;
    border-left: 3px solid transparent;
  }
  nav a[aria-current] {
    border-left-color: var(--iron);
    background: var(--sheet);
  }
  .name {
    display: block;
    font-weight: 550;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .small {
    font-size: 12px;
  }
  section {
    display: flex;
    flex-direction: column;
    min-height: 0;
    padding: 10px 18px 0;
  }
  header {
    display: flex;
    align-items: center;
    gap: 14px;
  }
  h1 {
    font-size: 17px;
    font-weight: 620;
    margin: 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  h2 {
    font-size: 13px;
    font-weight: 600;
    margin: 14px 0 4px;
  }
  .where {
    flex: 0 1 auto;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .sum {
    margin-left: auto;
    white-space: nowrap;
  }
  .switch,
  .tabs {
    display: flex;
    gap: 4px;
  }
  .switch button,
  .tabs button {
    background: none;
    border: 0;
    border-bottom: 2px solid transparent;
    padding: 2px 6px;
    color: var(--soft);
    cursor: pointer;
  }
  .switch button[aria-pressed="true"],
  .tabs button[aria-pressed="true"] {
    color: var(--ink);
    border-bottom-color: var(--iron);
  }
  .tabs {
    align-items: center;
    gap: 12px;
    margin-top: 8px;
    padding-bottom: 6px;
    border-bottom: 1px solid var(--line);
  }
  .tabs input {
    margin-left: auto;
    width: 260px;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--raised);
    color: var(--ink);
    padding: 3px 9px;
    font-size: 13px;
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
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 1px 12px;
    margin: 0;
    font-size: 12.5px;
    overflow-wrap: anywhere;
  }
  dd {
    margin: 0;
  }
</style>
