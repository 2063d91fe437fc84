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
  <div class="soft py-10 px-4.5" aria-live="polite">Reading the agents…</div>
{:else}
  <div class="grid grid-cols-[216px_minmax(0,1fr)] h-full">
    <nav class="py-2.5 border-r border-r-line overflow-auto" aria-label="Agents">
      {#each agents as one (one.file)}
        <a
          class="block py-1.25 pr-3 pl-4.5 border-l-3 border-l-transparent no-underline"
          href={`/agents/${one.agent}`}
          aria-current={one.agent === chosen ? "page" : undefined}
          title={one.title}
        >
          <span class="block truncate font-medium">{one.agent}</span>
          {#if one.problems.length}
            <span class="text-broke block truncate text-sm">
              {counted(one.problems.length, "problem")} in its file
            </span>
          {:else}
            <span class="soft block truncate text-sm"
              >{one.link} · {one.model ?? "model not seen"}{one.simulated
                ? " (simulated)"
                : ""}</span
            >
          {/if}
        </a>
      {/each}
      <a
        class="block mt-2 py-1.25 pr-3 pl-4.5 border-l-3 border-l-transparent text-sm text-soft no-underline"
        href="/agents?view=new"
        aria-current={connecting ? "page" : undefined}>Connect one</a
      >
    </nav>

    {#if connecting || !agents.length}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="Connect an agent">
        {#if !agents.length}<h1 class="mb-2.5 truncate">No agent yet. Connect one:</h1>{/if}
        <Connect onmade={list} />
      </section>
    {:else if line}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="The chosen agent">
        <header class="flex items-baseline gap-4.5 pb-1.5 border-b border-b-line">
          <h1 class="truncate" title={line.title}>
            {line.title ?? line.agent}
          </h1>
          <div class="flex gap-2 ml-auto">
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
          <div class="grid flex-1 grid-cols-[minmax(0,2fr)_minmax(0,3fr)] min-h-0">
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
          <div class="soft py-10 px-4.5" aria-live="polite">Reading {chosen}…</div>
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
  nav a[aria-current] {
    border-left-color: var(--iron);
    background: var(--sheet);
  }
</style>
