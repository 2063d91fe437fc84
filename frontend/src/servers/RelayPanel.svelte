<script lang="ts">
  /* A relay before the live server: start it, see the calls come in, stop, name, keep. */
  import { untrack } from "svelte";
  import { api, ask, type Relay, type Server } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import { counted, duration } from "../values/text";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";

  interface Props {
    server: Server;
    onkept: (file: string) => void;
  }
  let { server, onkept }: Props = $props();

  let relay = $state.raw<Relay | null>(null);
  const act = new Action();
  let name = $state("");
  let use = $state(true);
  const live = $derived(server.modes.filter((m) => m !== "mock" && m !== "recorded"));
  let mode = $state("");
  const chosen = $derived(live.includes(mode) ? mode : (live[0] ?? ""));
  const calls = $derived((relay?.calls ?? []).filter((c) => c.tool !== null).toReversed());

  const start = () =>
    act.run(async () => {
      const params = { path: { server: server.server } };
      relay = await ask(
        api.POST("/api/servers/{server}/relay", { params, body: { mode: chosen } }),
      );
      name = `${server.server}-${new Date().toISOString().slice(0, 10)}`;
    });
  const stop = () =>
    act.run(async () => {
      const params = { path: { relay: relay?.id ?? "" } };
      relay = await ask(api.POST("/api/relays/{relay}/stop", { params }));
      if (!name) name = `${server.server}-${new Date().toISOString().slice(0, 10)}`;
    });
  const keep = () =>
    act.run(async () => {
      const params = { path: { relay: relay?.id ?? "" } };
      const kept = await ask(api.POST("/api/relays/{relay}/keep", { params, body: { name, use } }));
      relay = null;
      onkept(kept.name);
    });
  const drop = () =>
    act.run(async () => {
      const params = { path: { relay: relay?.id ?? "" } };
      await ask(api.POST("/api/relays/{relay}/drop", { params }));
      relay = null;
    });

  const standing = $derived(relay?.state === "standing" ? relay.id : null);

  $effect(() => {
    const name = server.server;
    void untrack(() =>
      act.run(async () => {
        const all = (await ask(api.GET("/api/relays"))).relays;
        relay = all.find((r) => r.server === name) ?? null;
      }),
    );
  });

  $effect(() => {
    if (!standing) return;
    const id = standing;
    return untrack(() =>
      watch<Relay>("relays", id, {
        change: (now) => {
          if (relay?.id === id && relay.state === "standing") relay = now; // not over a Stop
        },
      }),
    );
  });
</script>

<section class="pt-2 pb-2.5 border-b border-b-line" data-testid="relay">
  {#if !relay}
    <div class="flex flex-wrap items-center gap-3">
      <Button kind="go" onclick={start} disabled={act.busy || !chosen}
        >{act.busy ? "Looking whether it answers…" : "Record"}</Button
      >
      {#if live.length > 1}
        <Choice bind:value={mode} aria-label="Way to record">
          {#each live as way (way)}<option value={way}>{way}</option>{/each}
        </Choice>
      {/if}
      <span class="soft">
        {live.length
          ? "stands before the live server and writes down all that passes, both ways"
          : "only a live server can be recorded; this file names none"}
      </span>
    </div>
  {:else}
    <div class="flex flex-wrap items-center gap-3">
      <b class={{ on: relay.state === "standing" }}
        >{relay.state === "standing" ? "Recording" : "Stopped"}</b
      >
      <span>{counted(relay.messages, "message")}</span>
      <span class="soft">{counted(relay.sessions, "session")} open</span>
      {#if relay.state === "standing"}
        <Button onclick={stop} disabled={act.busy}>Stop</Button>
      {/if}
    </div>
    {#if relay.state === "standing"}
      <p class="soft mt-1.5 mb-0.5">Point your client here:</p>
      {#each relay.snippets as snippet (snippet.title)}
        <details open={snippet === relay.snippets[0]}>
          <summary class="text-sm cursor-pointer">{snippet.title}</summary>
          <div class="flex items-start gap-2.5">
            <pre
              class="mono mt-0.5 mb-1 py-1 px-2 border border-line rounded-[4px] bg-raised whitespace-pre-wrap wrap-anywhere text-sm">{snippet.text}</pre>
            <Button onclick={() => navigator.clipboard.writeText(snippet.text)}>Copy</Button>
          </div>
        </details>
      {/each}
    {:else}
      <form
        class="flex flex-wrap items-center gap-3"
        onsubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <label
          >Name <Field bind:value={name} pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*" required /></label
        >
        <Tick bind:checked={use}>the server's file is to use it</Tick>
        <Button type="submit" kind="go" disabled={act.busy || relay.messages === 0}>Keep</Button>
        <Button onclick={drop} disabled={act.busy}>Throw away</Button>
      </form>
    {/if}
    {#each relay.remarks as remark, i (i)}<p class="text-doubt mt-1.5 mb-0.5">{remark}</p>{/each}
    <ul class="max-h-47.5 mt-1.5 overflow-auto text-sm">
      {#each calls as call (call.number)}
        <li class="flex gap-2.5">
          <span class="soft min-w-13 text-right">{call.t.toFixed(1)} s</span>
          <b>{call.tool}</b>
          <span class="mono flex-1 min-w-0 truncate">{JSON.stringify(call.args)}</span>
          <span class={call.error ? "text-broke" : "soft"}>
            {call.s === null ? "waiting…" : (call.error ?? duration(call.s * 1000))}
          </span>
        </li>
      {:else}
        <li class="soft flex gap-2.5">No call has come yet.</li>
      {/each}
    </ul>
  {/if}
  <Fault message={act.fault} class="mt-1.5 mb-0.5" />
</section>

<style>
  .on {
    color: var(--iron);
  }
</style>
