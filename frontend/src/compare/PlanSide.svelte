<script lang="ts">
  /* What a plan would run, while it is typed: its arms, what they take, what they could find. */
  import { api, ask, type Run } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import EstimateWords from "../board/EstimateWords.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import { counted } from "../values/text";

  interface Props {
    name: string;
    text: string;
    saved: number;
    runs: number[];
    atOnce: number;
    onstarted: (run: Run) => void;
  }
  let { name, text, saved, runs, atOnce, onstarted }: Props = $props();
  let sideBySide = $state<number | null>(null);
  const at_once = $derived(Number(sideBySide ?? atOnce) || 1);

  const reading = new Resource(() => {
    void saved; // other files may have changed with it
    return text ? ask(api.POST("/api/plan/read", { body: { name, text, at_once } })) : null;
  });
  const found = $derived(reading.value?.preview ?? null);
  const fault = $derived(reading.fault || (reading.value?.fault ?? ""));
  const act = new Action();

  const finds = $derived.by(() => {
    if (!found || found.arms.every((arm) => arm.against === null)) return "";
    const basis =
      found.rates_known === found.tasks
        ? "by the pass rates of the last run"
        : found.rates_known
          ? `${found.rates_known} of ${found.tasks} tasks by their last run, the others as if they passed half the time`
          : "as if every task passed half the time, for none has run";
    if (found.found_drop === null)
      return `Too few trials to find even an arm that never passes, ${basis}.`;
    return `A drop of ${(100 * found.found_drop).toFixed(0)} points or more is found in 80 of 100 such runs (${basis}).`;
  });

  function start() {
    return act.run(async () => {
      onstarted(await ask(api.POST("/api/plan/start", { body: { name, text, at_once } })));
    });
  }
</script>

<div class="min-h-0 overflow-auto pr-1 pb-4 pl-4 text-sm" data-testid="plan-side">
  {#if fault}
    <p class="text-doubt" role="status">It cannot run yet: {fault}</p>
  {:else if found}
    <p>
      <b>{counted(found.arms.length, "arm")}</b> over {counted(found.tasks, "task")}:
      {found.looks.length
        ? `${found.first_trials} trials until the first look, at most ${found.trials}`
        : `${found.trials} trials`}
    </p>
    <EstimateWords found={found.estimate} />
    {#if finds}<p class={found.found_drop === null ? "text-doubt" : "text-soft"}>{finds}</p>{/if}
    <Fault message={act.fault} />
    <div class="my-2 flex items-center gap-3">
      <Button kind="go" onclick={start} disabled={act.busy} data-testid="start-plan">
        {act.busy ? "Starting…" : `Start ${counted(found.first_trials, "trial")}`}
      </Button>
      <label class="flex items-center gap-2"
        >side by side
        <Field
          class="w-14"
          type="number"
          min="1"
          max="64"
          bind:value={() => sideBySide ?? atOnce, (n) => (sideBySide = Number(n))}
        />
      </label>
    </div>
    {#if runs.length}
      <p>
        Ran before:
        {#each runs as run (run)}
          <a class="mr-1.5 underline" href={`/compare?view=arms&run=${run}`}>run {run}</a>
        {/each}
      </p>
    {/if}
    <h3>Arms</h3>
    <ol data-testid="planned-arms">
      {#each found.arms as arm (arm.arm)}
        <li class={["leading-6 wrap-anywhere", arm.against === null && "font-medium"]}>
          {arm.arm}{#if arm.against === null && found.arms.length > 1}<span class="ml-2 text-soft"
              >baseline</span
            >{/if}
        </li>
      {/each}
    </ol>
  {:else}
    <p class="text-soft">Reading…</p>
  {/if}
</div>
