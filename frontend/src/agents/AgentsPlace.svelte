<script lang="ts">
  /* Will it start, what will it be offered, and what does it do when I talk to it? */
  import { connection } from "../frame/connection.svelte";
  import { address } from "../address.svelte";
  import { api, ask, type AgentDetail, type AgentLine, type Overrides } from "../api/client";
  import FileEditor from "../editor/FileEditor.svelte";
  import Notice from "../frame/Notice.svelte";
  import Connect from "./Connect.svelte";
  import Facts from "./Facts.svelte";
  import ProbePanel from "./ProbePanel.svelte";
  import ConversationPanel from "./ConversationPanel.svelte";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";

  let { name }: { name: string | null } = $props();

  let agents = $state.raw<AgentLine[] | null>(null);
  let detail = $state.raw<AgentDetail | null>(null);
  let fault = $state("");
  let overrides = $state.raw<Overrides>({ modes: {}, models: {}, faults: null });

  const connecting = $derived(address.query.get("view") === "new");
  const chosen = $derived(connecting ? null : (name ?? agents?.[0]?.agent ?? null));
  const line = $derived(agents?.find((a) => a.agent === chosen) ?? null);
  const view = $derived(
    line?.problems.length || !line?.link ? "file" : (address.query.get("view") ?? "conversation"),
  );

  async function list() {
    try {
      agents = (await ask(api.GET("/api/agents"))).agents;
      fault = "";
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  async function read(which: string) {
    try {
      const got = await ask(api.GET("/api/agents/{agent}", { params: { path: { agent: which } } }));
      if (which === chosen) detail = got;
    } catch {
      detail = null; // the file's own errors say why
    }
  }

  $effect(() => {
    void connection.returns;
    void list();
  });

  $effect(() => {
    if (chosen) void read(chosen);
    overrides = { modes: {}, models: {}, faults: null };
  });
</script>

{#snippet tab(to: string, words: string)}
  <Button
    kind="way"
    aria-pressed={view === to}
    onclick={() => address.mark("view", to === "conversation" ? null : to)}>{words}</Button
  >
{/snippet}

{#if fault && !agents}
  <Notice tone="broke" title="The agents cannot be shown"><p>{fault}</p></Notice>
{:else if !agents}
  <div class="soft loading" aria-live="polite">Reading the agents…</div>
{:else}
  <div class="place">
    <nav aria-label="Agents">
      {#each agents as one (one.file)}
        <a
          href={`/agents/${one.agent}`}
          aria-current={one.agent === chosen ? "page" : undefined}
          title={one.title}
        >
          <span class="name">{one.agent}</span>
          {#if one.problems.length}
            <span class="text-broke small">
              {counted(one.problems.length, "problem")} in its file
            </span>
          {:else}
            <span class="soft small"
              >{one.link} · {one.model ?? "model not seen"}{one.simulated
                ? " (simulated)"
                : ""}</span
            >
          {/if}
        </a>
      {/each}
      <a class="add" href="/agents?view=new" aria-current={connecting ? "page" : undefined}
        >Connect one</a
      >
    </nav>

    {#if connecting || !agents.length}
      <section aria-label="Connect an agent">
        {#if !agents.length}<h1 class="first">No agent yet. Connect one:</h1>{/if}
        <Connect onmade={list} />
      </section>
    {:else if line}
      <section aria-label="The chosen agent">
        <header>
          <h1 title={line.title}>{line.title ?? line.agent}</h1>
          <div class="tabs">
            {#if line.link && !line.problems.length}
              {@render tab("conversation", "Conversation")}
              {@render tab("probe", "Probe")}
            {/if}
            {@render tab("file", "File")}
          </div>
        </header>
        {#if view === "file"}
          {#key line.file}
            <FileEditor
              name={line.file}
              onsaved={() => {
                void list();
                if (chosen) void read(chosen);
              }}
            />
          {/key}
        {:else if detail && detail.line.agent === chosen}
          <div class="two">
            <Facts {detail} {overrides} onset={(next) => (overrides = next)} />
            {#key chosen}
              {#if view === "probe"}
                <ProbePanel {detail} {overrides} />
              {:else}
                <ConversationPanel {detail} {overrides} />
              {/if}
            {/key}
          </div>
        {:else}
          <div class="soft loading" aria-live="polite">Reading {chosen}…</div>
        {/if}
      </section>
    {:else}
      <Notice title={`There is no agent ${chosen}`}>
        <a href="/agents">To the agents</a>
      </Notice>
    {/if}
  </div>
{/if}

<style>
  .loading {
    padding: 40px 18px;
  }
  .place {
    display: grid;
    grid-template-columns: 216px minmax(0, 1fr);
    height: 100%;
  }
  nav {
    border-right: 1px solid var(--line);
    padding: 10px 0;
    overflow: auto;
  }
  nav a {
    display: block;
    padding: 5px 12px 5px 18px;
    text-decoration: none;
    border-left: 3px solid transparent;
  }
  nav a[aria-current] {
    border-left-color: var(--iron);
    background: var(--sheet);
  }
  .name,
  .small {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .name {
    font-weight: 550;
  }
  .small {
    font-size: 12.5px;
  }
  .add {
    color: var(--soft);
    font-size: 12.5px;
    margin-top: 8px;
  }
  section {
    display: flex;
    flex-direction: column;
    min-height: 0;
    padding: 10px 18px 0;
  }
  header {
    display: flex;
    align-items: baseline;
    gap: 18px;
    padding-bottom: 6px;
    border-bottom: 1px solid var(--line);
  }
  h1 {
    font-size: 17px;
    font-weight: 620;
    margin: 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .first {
    margin-bottom: 10px;
  }
  .tabs {
    display: flex;
    gap: 8px;
    margin-left: auto;
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
    flex: 1;
    min-height: 0;
  }
</style>
