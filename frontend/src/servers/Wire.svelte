<script lang="ts">
  /* The connection: its variables with their origins, and the newest messages both ways. */
  import { api, ask, type Server } from "../api/client";
  import Messages from "./Messages.svelte";
  import Button from "../kit/Button.svelte";

  let { server }: { server: Server } = $props();

  let messages = $state.raw<Record<string, unknown>[]>([]);
  let lost = $state<string | null>(null);

  async function look() {
    try {
      const params = { path: { server: server.server }, query: { mode: server.mode } };
      const answer = await ask(api.GET("/api/servers/{server}/connection", { params }));
      messages = answer.messages;
      lost = answer.lost;
    } catch {
      messages = [];
    }
  }

  $effect(() => {
    void server;
    void look();
  });
</script>

<div
  class="grid gap-6 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] max-md:block pt-2 pb-4 overflow-auto"
>
  <div>
    {#if server.server_info}
      <p>
        {server.server_info["title"] ?? server.server_info["name"]}
        <span class="soft">version {server.server_info["version"] ?? "unknown"}</span>
      </p>
    {/if}
    {#if server.variables.length}
      <h2 class="flex items-center gap-2.5 my-1">
        Variables that this server gets, and from where
      </h2>
      <dl class="text-sm">
        {#each server.variables as v (v.name)}
          <dt class="mono">{v.name}</dt>
          <dd><span class="mono">{v.shown}</span> <span class="soft">from {v.origin}</span></dd>
        {/each}
      </dl>
      <p class="soft">Nothing else is inherited.</p>
    {:else if server.started}
      <p class="soft">
        It is started by its command; which variables it gets cannot be told until every secret of
        its file is set.
      </p>
    {:else if server.reached}
      <p class="soft">It is reached at its address; no variables are handed to it.</p>
    {/if}
  </div>
  <div>
    <h2 class="flex items-center gap-2.5 my-1">
      Messages since it was connected
      <Button onclick={look}>Read again</Button>
    </h2>
    {#if lost !== null}<p class="text-broke" role="alert">The connection was lost: {lost}</p>{/if}
    <Messages messages={messages as never} />
  </div>
</div>
