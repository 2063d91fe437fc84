<script lang="ts">
  /* Drift: the recorded calls asked again of the live server, and what has changed. */
  import { onDestroy } from "svelte";
  import { api, ask, type Drift, type Server } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import Differences from "../values/Differences.svelte";
  import Changes from "./Changes.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Tick from "../kit/Tick.svelte";

  let { server, file }: { server: Server; file: string } = $props();

  let drift = $state.raw<Drift | null>(null);
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => unwatch());
  let also = $state.raw<readonly string[]>([]);
  const live = $derived(server.modes.filter((m) => m !== "mock" && m !== "recorded"));
  let mode = $state("");
  const chosen = $derived(live.includes(mode) ? mode : (live[0] ?? ""));
  const count = (kind: string) => drift?.calls.filter((c) => c.kind === kind).length ?? 0;
  const left = $derived([
    ...new Set((drift?.calls ?? []).filter((c) => c.kind === "not asked").map((c) => c.tool)),
  ]);

  function go() {
    return act.run(async () => {
      const params = { path: { server: server.server } };
      const body = { file, mode: chosen, also: [...also] };
      drift = await ask(api.POST("/api/servers/{server}/drift", { params, body }));
      unwatch();
      unwatch = watch<Drift>("drifts", drift.id, { change: (now) => (drift = now) });
    });
  }

  function stop(running: Drift) {
    return act.run(async () => {
      const params = { path: { drift: running.id } };
      drift = await ask(api.POST("/api/drifts/{drift}/stop", { params }));
    });
  }
</script>

<section data-testid="drift">
  <p class="soft my-1.5">
    Asks the live server the recorded calls again and compares. Only tools that say that they only
    read are asked; others when you choose them.
  </p>
  <div class="flex items-center gap-3">
    {#if drift?.state === "running"}
      <Button onclick={() => drift && stop(drift)}>Stop</Button>
      <span aria-live="polite">{drift.calls.length} of {drift.total} asked</span>
    {:else}
      <Button kind="go" onclick={go}>{drift ? "Ask again" : "Ask the live server"}</Button>
      {#if live.length > 1}
        <Choice bind:value={mode} aria-label="Way to ask">
          {#each live as way (way)}<option value={way}>{way}</option>{/each}
        </Choice>
      {/if}
    {/if}
    {#if drift}
      <span>
        <b>{count("changed") + count("gone")}</b> no longer so, {count("same")} as recorded,
        {count("not asked")} not asked
      </span>
    {/if}
  </div>
  <Fault message={act.fault || drift?.message} />
  {#each left as tool (tool)}
    <Tick
      checked={also.includes(tool)}
      onchange={(on) => (also = on ? [...also, tool] : also.filter((t) => t !== tool))}
      >ask {tool} too, though it may write</Tick
    >
  {/each}
  {#if drift?.tools.length}
    <h3>The list of tools</h3>
    <Changes changes={drift.tools} />
  {/if}
  {#each (drift?.calls ?? []).filter((c) => c.kind === "changed" || c.kind === "gone") as call (call.number)}
    <h3>
      {call.tool} <span class="mono soft">{JSON.stringify(call.args)}</span>
    </h3>
    {#if call.reason}<p class="text-broke my-1.5">{call.reason}</p>{/if}
    {#if call.what.length}<Differences what={call.what} old="recorded" />{/if}
  {/each}
  {#if drift?.state === "done" && !drift.tools.length && !count("changed") && !count("gone")}
    <p class="text-holds my-1.5">Everything that was asked is as recorded.</p>
  {/if}
</section>
