<script lang="ts">
  import { onMount, tick } from "svelte";
  import { address, follow } from "./address.svelte";
  import { api, ask } from "./api/client";
  import { Resource } from "./api/resource.svelte";
  import Begin from "./beginning/Begin.svelte";
  import BoardPlace from "./board/BoardPlace.svelte";
  import ComparePlace from "./compare/ComparePlace.svelte";
  import Dock from "./dock/Dock.svelte";
  import { live } from "./dock/live.svelte";
  import { keepDraftsFor } from "./editor/drafts";
  import { connection } from "./frame/connection.svelte";
  import GoTo from "./frame/GoTo.svelte";
  import { keys } from "./frame/keys.svelte";
  import KeySheet from "./frame/KeySheet.svelte";
  import Notice from "./frame/Notice.svelte";
  import Places from "./frame/Places.svelte";
  import UndoBar from "./frame/UndoBar.svelte";
  import TasksPlace from "./tasks/TasksPlace.svelte";
  import TrialPlace from "./trial/TrialPlace.svelte";
  import Button from "./kit/Button.svelte";
  import Waiting from "./kit/Waiting.svelte";

  // Large places are loaded when they are first opened.
  const places = {
    servers: () => import("./servers/ServersPlace.svelte"),
    agents: () => import("./agents/AgentsPlace.svelte"),
  };

  const reading = new Resource(() => ask(api.GET("/api/workspace")));
  const workspace = $derived(reading.value);
  $effect.pre(() => keepDraftsFor(workspace?.name ?? ""));
  const parts = $derived(address.path.split("/").filter(Boolean));

  const comparing = $derived(
    parts[0] === "compare" &&
      parts.length === 1 &&
      (workspace !== null || address.query.get("view") !== "plans"),
  );

  let open = $state<"" | "go to" | "keys">("");
  let main: HTMLElement;

  function byKey(event: KeyboardEvent) {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
      event.preventDefault();
      open = "go to";
    } else keys.heed(event);
  }
  const search = () => main.querySelector<HTMLInputElement>("input[type=search]")?.focus();
  keys.add(() => [
    { key: "/", does: "searches what is shown", run: search },
    { key: "?", does: "shows the keys", run: () => (open = "keys") },
  ]);

  // What had the focus may be gone with the place it stood in: then the new place has it.
  $effect(() => {
    void address.path;
    void tick().then(() => {
      if (document.activeElement === document.body) main.focus();
    });
  });

  onMount(() => {
    const leave = live.follow();
    document.addEventListener("click", follow);
    return () => {
      leave();
      document.removeEventListener("click", follow);
    };
  });
</script>

{#snippet opening()}<Waiting>Opening…</Waiting>{/snippet}
{#snippet lost()}
  <Notice tone="broke" title="This place could not be loaded">
    <p>Ferox may have been updated meanwhile.</p>
    <Button onclick={() => location.reload()}>Load the page again</Button>
  </Notice>
{/snippet}

<svelte:window onkeydown={byKey} />
<svelte:head><title>{workspace ? `${workspace.name} · Ferox` : "Ferox"}</title></svelte:head>

<div class="grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_1fr_auto] h-full">
  <div>
    <Places name={workspace?.name ?? ""} />
    {#if connection.gone}
      <p class="py-1 px-4.5 border-b border-b-broke bg-broke-wash" role="alert" data-testid="gone">
        <b>Ferox does not answer.</b> What is shown may be old, and nothing can be saved. It goes on
        by itself once <code>ferox serve</code> runs again.
      </p>
    {/if}
  </div>
  <main class="min-h-0 overflow-auto outline-none" tabindex="-1" bind:this={main}>
    {#if comparing}
      <!-- It needs nothing of the workspace, and its own answer takes longest. -->
      <ComparePlace />
    {:else if reading.fault && !workspace}
      <Notice tone="broke" title="Nothing can be shown">
        <p>{reading.fault}</p>
        <Button onclick={() => reading.read()}>Try again</Button>
      </Notice>
    {:else if workspace?.missing}
      <Begin onmade={() => reading.read()} />
    {:else if workspace}
      {#if parts.length === 0 || (parts[0] === "board" && parts.length <= 2)}
        <BoardPlace
          {workspace}
          number={parts[1] ? Number(parts[1]) : null}
          reload={() => reading.read()}
        />
      {:else if parts[0] === "servers" && parts.length <= 2}
        {#await places.servers()}
          {@render opening()}
        {:then { default: ServersPlace }}
          <ServersPlace name={parts[1] ?? null} />
        {:catch}{@render lost()}{/await}
      {:else if parts[0] === "tasks" && parts.length <= 2}
        <TasksPlace name={parts[1] ?? null} />
      {:else if parts[0] === "agents" && parts.length <= 2}
        {#await places.agents()}
          {@render opening()}
        {:then { default: AgentsPlace }}
          <AgentsPlace name={parts[1] ?? null} workspace={workspace.name} />
        {:catch}{@render lost()}{/await}
      {:else if parts[0] === "trial" && parts.length === 2}
        {#key parts[1]}<TrialPlace number={Number(parts[1])} />{/key}
      {:else}
        <Notice title="There is nothing at this address">
          <a href="/board">To the board</a>
        </Notice>
      {/if}
    {/if}
  </main>
  <div>
    <UndoBar />
    <Dock />
  </div>
</div>

{#if open === "go to"}
  <GoTo onkeys={() => (open = "keys")} onclose={() => (open = open === "go to" ? "" : open)} />
{:else if open === "keys"}
  <KeySheet onclose={() => (open = "")} />
{/if}
