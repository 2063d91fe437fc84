<script lang="ts">
  /* Will it start, what will it be offered, and what does it do when I talk to it? */
  import { address } from "../address.svelte";
  import { api, ask, type AgentDetail, type Overrides } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import FileEditor from "../editor/FileEditor.svelte";
  import Notice from "../frame/Notice.svelte";
  import Models from "../models/Models.svelte";
  import Secrets from "../secrets/Secrets.svelte";
  import Connect from "./Connect.svelte";
  import Facts from "./Facts.svelte";
  import ProbePanel from "./ProbePanel.svelte";
  import ConversationPanel from "./ConversationPanel.svelte";
  import { rememberedOffer, rememberOffer, type Offer } from "./offer";
  import { counted } from "../values/text";
  import PlaceList from "../kit/PlaceList.svelte";
  import Tabs from "../kit/Tabs.svelte";
  import Waiting from "../kit/Waiting.svelte";

  let { name, workspace }: { name: string | null; workspace: string } = $props();

  const list = new Resource(() => ask(api.GET("/api/agents")));
  const agents = $derived(list.value?.agents ?? null);
  let overrides = $state.raw<Overrides>({ modes: {}, models: {}, faults: null });

  const connecting = $derived(address.query.get("view") === "new");
  const aside = $derived(
    name === null && ["models", "secrets"].includes(address.query.get("view") ?? "")
      ? address.query.get("view")
      : null,
  );
  const chosen = $derived(connecting || aside ? null : (name ?? agents?.[0]?.agent ?? null));
  const line = $derived(agents?.find((a) => a.agent === chosen) ?? null);
  const views = $derived<[string, string][]>(
    line?.link && !line.problems.length
      ? [
          ["conversation", "Conversation"],
          ["probe", "Probe"],
          ["file", "File"],
        ]
      : [["file", "File"]],
  );
  const view = $derived(
    line?.problems.length || !line?.link ? "file" : (address.query.get("view") ?? "conversation"),
  );

  // What is wrong with its file is told by the file's own errors.
  const reading = new Resource<AgentDetail>(() =>
    chosen ? ask(api.GET("/api/agents/{agent}", { params: { path: { agent: chosen } } })) : null,
  );
  const detail = $derived(reading.value?.line.agent === chosen ? reading.value : null);

  /** What it is offered here, where that is not what its file says. */
  let offer = $state.raw<Offer | null>(null);
  $effect.pre(() => {
    offer = chosen ? rememberedOffer(workspace, chosen) : null;
  });

  function setOffer(next: Offer | null) {
    offer = next;
    if (chosen) rememberOffer(workspace, chosen, next);
  }

  function keptOffer(now: AgentDetail) {
    setOffer(null);
    reading.put(now);
  }

  $effect(() => {
    void chosen;
    overrides = { modes: {}, models: {}, faults: null };
  });
</script>

{#if list.fault && !agents}
  <Notice tone="broke" title="The agents cannot be shown"><p>{list.fault}</p></Notice>
{:else if !agents}
  <Waiting>Reading the agents…</Waiting>
{:else}
  <div class="grid grid-cols-[216px_minmax(0,1fr)] h-full max-md:block max-md:h-auto">
    <PlaceList
      label="Agents"
      items={agents}
      key={(one) => one.file}
      href={(one) => `/agents/${one.agent}`}
      isChosen={(one) => one.agent === chosen}
      title={(one) => one.title ?? one.agent}
      more={[
        { href: "/agents?view=new", words: "Connect one", chosen: connecting },
        { href: "/agents?view=models", words: "Models", chosen: aside === "models" },
        { href: "/agents?view=secrets", words: "Secrets", chosen: aside === "secrets" },
      ]}
    >
      {#snippet line(one)}
        <span class="block truncate font-medium">{one.agent}</span>
        {#if one.problems.length}
          <span class="text-sm text-broke"
            >{counted(one.problems.length, "problem")} in its file</span
          >
        {:else}
          <span class="text-sm text-soft"
            >{one.link} · {one.model ?? "model not seen"}{one.simulated ? " (simulated)" : ""}</span
          >
        {/if}
      {/snippet}
    </PlaceList>

    {#if aside === "models"}
      <Models />
    {:else if aside === "secrets"}
      <Secrets />
    {:else if connecting || !agents.length}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="Connect an agent">
        {#if !agents.length}<h1 class="mb-2.5 truncate">No agent yet. Connect one:</h1>{/if}
        <Connect onmade={() => list.read()} />
      </section>
    {:else if line}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="The chosen agent">
        <header class="flex items-baseline gap-4.5 pb-1.5 border-b border-b-line">
          <h1 class="truncate" title={line.title}>
            {line.title ?? line.agent}
          </h1>
          <Tabs class="ml-auto" label="Views of the agent" {views} shown={view} />
        </header>
        {#if view === "file"}
          {#key line.file}
            <FileEditor
              name={line.file}
              onsaved={() => {
                void list.read();
                void reading.read();
              }}
            />
          {/key}
        {:else if detail}
          <div class="grid flex-1 grid-cols-[minmax(0,2fr)_minmax(0,3fr)] min-h-0 max-md:block">
            {#key chosen}
              <Facts
                {detail}
                {overrides}
                {offer}
                onset={(next) => (overrides = next)}
                onoffer={setOffer}
                onkept={keptOffer}
              />
              {#if view === "probe"}
                <ProbePanel {detail} {overrides} {offer} />
              {:else}
                <ConversationPanel {detail} {overrides} {offer} />
              {/if}
            {/key}
          </div>
        {:else}
          <Waiting>Reading {chosen}…</Waiting>
        {/if}
      </section>
    {:else}
      <Notice title={`There is no agent ${chosen}`}>
        <a href="/agents">To the agents</a>
      </Notice>
    {/if}
  </div>
{/if}
