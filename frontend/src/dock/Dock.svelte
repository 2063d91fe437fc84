<script lang="ts">
  import Fault from "../kit/Fault.svelte";
  import { Action } from "../api/resource.svelte";
  import type { HoldRule } from "../api/client";
  import HeldCall from "../holding/HeldCall.svelte";
  import HoldChoice from "../holding/HoldChoice.svelte";
  import { counted, left, shortTool } from "../values/text";
  import { live } from "./live.svelte";
  import Button from "../kit/Button.svelte";

  let stopping = $state(false);
  const act = new Action();
  const run = $derived(live.run);
  const share = $derived(run && run.total ? run.done / run.total : 0);

  async function stop() {
    stopping = true;
    if (!(await act.run(() => live.stop()))) stopping = false;
  }

  const setHold = (rule: HoldRule | null) => act.run(() => live.hold(rule));

  $effect(() => {
    if (!live.going) stopping = false;
  });
</script>

{#if live.going && live.held.length}
  {@const first = live.held[0]}
  <section
    class="max-h-[45vh] pt-1.5 pb-2 px-4.5 border-t border-t-line bg-sheet overflow-auto"
    aria-label="Held calls"
    data-testid="held-calls"
  >
    <p class="mb-1">
      <a href={`/trial/${first?.trial}`}>{first?.task} · {first?.agent}</a>
      {#if live.held.length > 1}<span class="soft"
          >and {live.held.length - 1} more call{live.held.length > 2 ? "s" : ""} held</span
        >{/if}
    </p>
    {#if first}
      {#key first.id}
        <HeldCall
          tool={first.tool}
          args={first.args}
          ondecide={(body) => live.decideHeld(first, body)}
        />
      {/key}
    {/if}
  </section>
{/if}
<footer
  class="flex items-center gap-3.5 h-9.5 py-0 px-4.5 border-t border-t-line bg-sheet overflow-hidden whitespace-nowrap"
  aria-label="The run in progress"
  data-testid="dock"
>
  {#if run && live.going}
    <a class="font-semibold" href={`/board/${run.id}`} title={run.otherwise}>Run {run.id}</a>
    <div
      class="flex-none w-45 h-1.5 bg-faint"
      role="progressbar"
      aria-label="Trials done"
      aria-valuemin="0"
      aria-valuemax={run.total}
      aria-valuenow={run.done}
    >
      <div class="h-full bg-iron [transition:width_0.2s]" style:width={`${share * 100}%`}></div>
    </div>
    <span>{run.done} of {counted(run.total, "trial")}</span>
    {#if run.on}<span class="soft max-w-60 truncate" title={run.on}>on {run.on}</span>{/if}
    <span class="soft min-w-26.25">
      {#if live.lost}
        connection lost, trying again
      {:else if run.state === "waiting"}
        starting
      {:else if run.seconds_left !== null}
        {left(run.seconds_left)}
      {/if}
    </span>
    <ol class="flex flex-1 gap-3.5 overflow-hidden">
      {#each live.calls as call, i (i)}
        <li class={{ failed: call.failed }}>
          <a href={`/trial/${call.trial}`}>{shortTool(call.tool)}</a>
          <span class="soft">{call.s === null ? "…" : `${Math.round(call.s * 1000)} ms`}</span>
        </li>
      {/each}
    </ol>
    <HoldChoice rule={run.hold ?? null} onset={setHold} />
    <Button onclick={stop} disabled={stopping}>
      {stopping ? "Stopping…" : "Stop"}
    </Button>
    <Fault message={act.fault} />
  {:else if run}
    <span class="soft">
      Run {run.id}
      {run.state === "done" ? "is done" : `was ${run.state}`}: {run.passes} of {counted(
        run.judged,
        "trial",
      )} passed{run.errors ? `, ${run.errors} could not run` : ""}
    </span>
  {:else}
    <span class="soft">No run in progress.</span>
  {/if}
</footer>

<style>
  .failed a {
    color: var(--broke);
  }
</style>
