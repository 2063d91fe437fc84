<script lang="ts">
  import { onMount } from "svelte";
  import { address, follow } from "./address.svelte";
  import { api, ask, type Workspace } from "./api/client";
  import AgentsPlace from "./agents/AgentsPlace.svelte";
  import BoardPlace from "./board/BoardPlace.svelte";
  import Dock from "./dock/Dock.svelte";
  import { live } from "./dock/live.svelte";
  import { connection } from "./frame/connection.svelte";
  import Notice from "./frame/Notice.svelte";
  import Places from "./frame/Places.svelte";
  import TasksPlace from "./tasks/TasksPlace.svelte";
  import ServersPlace from "./servers/ServersPlace.svelte";
  import TrialPlace from "./trial/TrialPlace.svelte";
  import Button from "./kit/Button.svelte";

  let workspace = $state<Workspace | null>(null);
  let fault = $state("");
  const parts = $derived(address.path.split("/").filter(Boolean));

  async function load() {
    try {
      workspace = await ask(api.GET("/api/workspace"));
      fault = "";
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  $effect(() => {
    void connection.returns;
    void load();
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
  <main class="min-h-0 overflow-auto">
    {#if fault}
      <Notice tone="broke" title="Nothing can be shown">
        <p>{fault}</p>
        <Button onclick={load}>Try again</Button>
      </Notice>
    {:else if workspace}
      {#if parts.length === 0 || (parts[0] === "board" && parts.length <= 2)}
        <BoardPlace {workspace} number={parts[1] ? Number(parts[1]) : null} reload={load} />
      {:else if parts[0] === "servers" && parts.length <= 2}
        <ServersPlace name={parts[1] ?? null} />
      {:else if parts[0] === "tasks" && parts.length <= 2}
        <TasksPlace name={parts[1] ?? null} />
      {:else if parts[0] === "agents" && parts.length <= 2}
        <AgentsPlace name={parts[1] ?? null} />
      {:else if parts[0] === "trial" && parts.length === 2}
        {#key parts[1]}<TrialPlace number={Number(parts[1])} />{/key}
      {:else}
        <Notice title="There is nothing at this address">
          <a href="/board">To the board</a>
        </Notice>
      {/if}
    {/if}
  </main>
  <div><Dock /></div>
</div>
