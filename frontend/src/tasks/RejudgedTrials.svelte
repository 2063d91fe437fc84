<script lang="ts">
  /* The expectations as they stand in the editor, on stored trials of the task: which verdicts
     would change. After saving, stored trials can be scored again under them. */
  import { messageOf } from "../api/resource.svelte";
  import { untrack } from "svelte";
  import { api, ask, type RejudgedTrial } from "../api/client";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";

  interface Props {
    name: string;
    text: string;
    task: string;
    suite: string | null;
    saved: number;
  }
  let { name, text, task, suite, saved }: Props = $props();
  const REST_MS = 500;
  /** Trials of a group that are named. */
  const MOST_NAMED = 12;

  let trials = $state.raw<RejudgedTrial[] | null>(null);
  let more = $state(false);
  let fault = $state("");
  let busy = $state(false);
  let left = $state(0);
  let done = $state(0);
  let changedNow = $state(0);
  let scoring = $state(false);
  let stopping = false;
  let whole = $state(false);

  const changed = $derived(
    (trials ?? []).filter((t) => t.was !== t.now || t.changed_checks.length > 0),
  );
  /** Trials that change in the same way stand together. */
  const groups = $derived.by(() => {
    const found: { key: string; trials: RejudgedTrial[] }[] = [];
    for (const trial of changed) {
      const changed_checks = trial.changed_checks.map((t) => `${t.id} ${t.message}`).join("\n");
      const key = `${trial.was} ${trial.now} ${changed_checks}`;
      const same = found.find((g) => g.key === key);
      if (same) same.trials.push(trial);
      else found.push({ key, trials: [trial] });
    }
    return found.sort((a, b) => b.trials.length - a.trials.length);
  });
  const turned = $derived((trials ?? []).filter((t) => t.was !== t.now));
  const passes = $derived((trials ?? []).filter((t) => t.now === "pass").length);
  const judged = $derived((trials ?? []).filter((t) => t.now !== "error").length);

  $effect(() => {
    const body = { name, text, task };
    const timer = setTimeout(() => void tryIt(body), trials === null ? 0 : REST_MS);
    return () => clearTimeout(timer);
  });

  $effect(() => {
    void saved;
    const of = suite;
    untrack(() => void count(of));
  });

  async function tryIt(body: { name: string; text: string; task: string }) {
    busy = true;
    try {
      const answer = await ask(api.POST("/api/suite/rejudge", { body }));
      if (body.text !== text || body.task !== task) return;
      trials = answer.trials;
      more = answer.more;
      fault = "";
    } catch (error) {
      fault = messageOf(error);
    }
    busy = false;
  }

  async function count(of: string | null) {
    left = 0;
    if (!of) return;
    try {
      const query = { suite: of, tasks: [] };
      left = (await ask(api.GET("/api/suite/stale", { params: { query } }))).left;
    } catch {
      /* A suite that is not saved yet has no stored trials. */
    }
  }

  async function again() {
    if (!suite) return;
    scoring = true;
    stopping = false;
    done = changedNow = 0;
    try {
      for (;;) {
        const body = { suite, tasks: [] };
        const batch = await ask(api.POST("/api/suite/rescore", { body }));
        done += batch.done;
        changedNow += batch.changed;
        left = batch.left;
        if (!batch.done || !batch.left || stopping) break;
      }
      await tryIt({ name, text, task });
    } catch (error) {
      fault = messageOf(error);
    }
    scoring = false;
  }
</script>

<section
  class="mt-3 pt-1.5 border-t border-t-line text-sm"
  aria-label="On what happened"
  data-testid="tried"
>
  <h3 class="mt-0">On what happened</h3>
  {#if fault}
    <p class="soft mt-0.5 mb-1.25">{fault}</p>
  {:else if trials === null}
    <p class="soft mt-0.5 mb-1.25">{busy ? "Judging stored trials…" : ""}</p>
  {:else if trials.length === 0}
    <p class="soft mt-0.5 mb-1.25">
      No stored trial of this task yet. Run it once, and edits are tried here.
    </p>
  {:else}
    <p class="mt-0.5 mb-1.25">
      {more ? "The newest " : ""}{counted(trials.length, "stored trial")}:
      <b>{passes} of {judged} pass</b>;
      {#if turned.length}
        <b class="text-doubt">{counted(turned.length, "verdict")} would change</b>
      {:else}
        <span class="text-holds">no verdict changes</span>
      {/if}
    </p>
    <ul>
      {#each whole ? groups : groups.slice(0, 6) as { key, trials: same } (key)}
        {@const one = same[0]}
        {#if one}
          <li class="mb-1">
            <span
              class={one.now === "pass"
                ? "text-holds"
                : one.now === "fail"
                  ? "text-broke"
                  : "text-doubt"}
              >{one.was === one.now ? `still ${one.now}` : `${one.was} → ${one.now}`}</span
            ><span class="soft">, {counted(same.length, "trial")}</span>
            {#each one.changed_checks.slice(0, 3) as check, i (i)}
              <span class="block pl-3 wrap-anywhere"
                ><span class="mono">{check.id}</span> {check.message}</span
              >
            {/each}
            <span class="soft block pl-3 wrap-anywhere">
              {#each same.slice(0, MOST_NAMED) as trial, i (trial.id)}{i ? ", " : ""}<a
                  href={`/trial/${trial.id}`}>{trial.agent} {trial.number}</a
                >{/each}{same.length > MOST_NAMED ? ` and ${same.length - MOST_NAMED} more` : ""}
            </span>
          </li>
        {/if}
      {/each}
    </ul>
    {#if groups.length > 6 && !whole}
      <Button kind="link" onclick={() => (whole = true)}>all {groups.length} ways</Button>
    {/if}
  {/if}
  {#if scoring}
    <p class="mt-0.5 mb-1.25" aria-live="polite">
      {done} scored again, {left} left
      <Button onclick={() => (stopping = true)}>Stop</Button>
    </p>
  {:else if left}
    <p class="mt-0.5 mb-1.25">
      {left} stored trial{left === 1 ? " was" : "s were"} scored under another script than the one saved.
      <Button onclick={again}>Score {left === 1 ? "it" : "them"} again</Button>
    </p>
  {:else if done}
    <p class="text-holds mt-0.5 mb-1.25" aria-live="polite">
      {done} scored again, {changedNow} verdict{changedNow === 1 ? "" : "s"} changed.
    </p>
  {/if}
</section>
