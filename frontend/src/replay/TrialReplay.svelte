<script lang="ts">
  /* One trial played back to its agent of today, and what became of it. */
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import type { TrialView } from "../api/trace";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import { clockTime, day } from "../values/text";
  import FoldedDiff from "./FoldedDiff.svelte";
  import { followReplay, isGoing, type Replay, type Replayed, VERDICT_LOOK } from "./replays";

  let { view, onclose }: { view: TrialView; onclose: () => void } = $props();

  const trial = $derived(view.trial.id);
  const reading = new Resource(() =>
    ask(api.GET("/api/trials/{trial}/replay", { params: { path: { trial } } })),
  );
  const last = $derived(reading.value?.last ?? null);
  const act = new Action();
  let going = $state.raw<Replay | null>(null);
  const followed = $derived(isGoing(going) ? (going?.id ?? null) : null);
  $effect(() => {
    if (followed === null) return;
    return followReplay(followed, (now) => {
      going = now;
      if (!isGoing(now)) void reading.read();
    });
  });

  const start = () =>
    act.run(async () => {
      const params = { path: { run: view.trial.run } };
      const body = { trials: [trial], agents: [] };
      going = await ask(api.POST("/api/runs/{run}/replays", { params, body }));
    });

  function whereOf(one: Replayed): string {
    if (one.parted) return ` at ${one.parted.at}: ${one.parted.what}`;
    return one.reason ? `: ${one.reason}` : "";
  }
</script>

<section class="mb-1.5 max-h-60 overflow-auto text-sm" aria-label="Replay" data-testid="replayed">
  <div class="flex flex-wrap items-baseline gap-3">
    <Button onclick={start} disabled={act.busy || isGoing(going)}
      >{isGoing(going) ? "Playing back…" : last ? "Play back again" : "Play back"}</Button
    >
    {#if last}
      <span>
        <span class="soft">{day(last.at)}, {clockTime(last.at)}:</span>
        <strong class={VERDICT_LOOK[last.verdict]}>{last.verdict}</strong>{whereOf(last)}
      </span>
    {:else if reading.value}
      <span class="soft"
        >To its agent as it is today: model and tools say what they said, and what differs is the
        agent’s own.</span
      >
    {/if}
    <Button kind="link" onclick={onclose}>Hide</Button>
  </div>
  <Fault
    message={act.fault || reading.fault || (going && !isGoing(going) ? going.message : null)}
  />
  {#if last?.parted}<FoldedDiff lines={last.parted.lines} />{/if}
  {#each last?.differences ?? [] as found, i (i)}
    <p class="mt-1">{found.what} <span class="soft">at {found.at}</span></p>
    <FoldedDiff lines={found.lines} />
  {/each}
</section>
