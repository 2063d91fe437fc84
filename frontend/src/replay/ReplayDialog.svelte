<script lang="ts">
  /* A run played back to its agents as they are today: begun, followed, and read by what differs. */
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import JobBar from "../sharing/JobBar.svelte";
  import { clockTime, counted, day } from "../values/text";
  import FoldedDiff from "./FoldedDiff.svelte";
  import { followReplay, isGoing, type Replay, VERDICT_LOOK } from "./replays";

  interface Props {
    run: number;
    agents: string[];
    onclose: () => void;
  }
  let { run, agents, onclose }: Props = $props();

  const reading = new Resource(() =>
    ask(api.GET("/api/runs/{run}/replays", { params: { path: { run } } })),
  );
  const replays = $derived(reading.value?.replays ?? []);
  let picked = $state<number | null>(null);
  const shown = $derived(replays.find((one) => one.id === picked) ?? replays[0] ?? null);
  const going = $derived(replays.find(isGoing)?.id ?? null);
  $effect(() => {
    if (going === null) return;
    return followReplay(going, (now) =>
      reading.put({ replays: replays.map((one) => (one.id === now.id ? now : one)) }),
    );
  });

  let agent = $state("");
  let opened = $state<string | null>(null);
  const act = new Action();

  const start = () =>
    act.run(async () => {
      const params = { path: { run } };
      const body = { trials: [], agents: agent ? [agent] : [] };
      picked = (await ask(api.POST("/api/runs/{run}/replays", { params, body }))).id;
      await reading.read();
    });

  const stop = (replay: number) =>
    act.run(async () => {
      await ask(api.POST("/api/replays/{replay}/stop", { params: { path: { replay } } }));
    });

  const told = (one: Replay) => `${day(one.at)}, ${clockTime(one.at)}`;
</script>

<Dialog title={`Replay of run ${run}`} {onclose}>
  <div class="grid gap-3 text-sm" data-testid="replay">
    <p class="text-soft">
      The agents as they are today hear the same words; models and tools say what they said. What
      differs is the agents’ own: their framework, prompts, retries. No model is asked, no server
      called.
    </p>
    <div class="flex flex-wrap items-center gap-3">
      <label class="flex items-center gap-2"
        >Agents
        <Choice bind:value={agent}>
          <option value="">all</option>
          {#each agents as name (name)}<option>{name}</option>{/each}
        </Choice>
      </label>
      <Button
        kind="go"
        disabled={act.busy || going !== null}
        onclick={start}
        data-testid="start-replay">Play back</Button
      >
      {#if shown && isGoing(shown)}
        <Button onclick={() => stop(shown.id)} disabled={act.busy}>Stop</Button>
      {/if}
    </div>
    <Fault message={act.fault || reading.fault} />
    {#if !reading.value && !reading.fault}
      <Waiting>Reading its replays…</Waiting>
    {:else if !replays.length}
      <p class="soft">It was not played back yet.</p>
    {/if}
    {#if shown}
      <div class="flex flex-wrap items-baseline gap-x-3 border-t border-t-line pt-2">
        {#if replays.length > 1}
          <Choice bind:value={() => shown.id, (id) => (picked = id)} aria-label="Which replay">
            {#each replays as one (one.id)}<option value={one.id}>{told(one)}</option>{/each}
          </Choice>
        {:else}
          <span class="soft">{told(shown)}</span>
        {/if}
        <strong data-testid="replay-sentence">{shown.sentence}</strong>
        {#if shown.state !== "done" && !isGoing(shown)}
          <span class="text-doubt"
            >{shown.state}: {shown.total - shown.done} of {counted(shown.total, "trial")} not played back{shown.message
              ? `: ${shown.message}`
              : ""}</span
          >
        {/if}
      </div>
      <JobBar job={shown} noun="trials" />
      {#each shown.groups as group (`${group.verdict}${group.first}`)}
        {@const key = `${group.verdict}${group.first}`}
        <section class="border-l-2 border-l-line pl-3">
          <Button
            kind="text"
            aria-expanded={opened === key}
            onclick={() => (opened = opened === key ? null : key)}
            ><span class={VERDICT_LOOK[group.verdict]}>{group.verdict}</span>: {group.first}
            <span class="soft">({counted(group.count, "trial")})</span></Button
          >
          {#if opened === key}
            <p class="my-1">
              {#each group.trials as one (one.trial)}
                <a
                  class="mr-3 inline-block underline underline-offset-2"
                  href={`/trial/${one.trial}`}
                  title={`${one.suite}/${one.task} · ${one.agent}`}>trial {one.trial}</a
                >
              {/each}
              {#if group.count > group.trials.length}
                <span class="soft">and {group.count - group.trials.length} more</span>
              {/if}
            </p>
          {/if}
          {#if group.example?.lines.length}
            <p class="soft">trial {group.trials[0]?.trial} at {group.example.at}</p>
            <FoldedDiff lines={group.example.lines} />
          {/if}
        </section>
      {/each}
      {#if shown.unheld}
        <p class="text-doubt">
          {counted(shown.unheld, "trial")} asked no model at Ferox: if they think elsewhere, what they
          think with was not held still.
        </p>
      {/if}
    {/if}
  </div>
</Dialog>
