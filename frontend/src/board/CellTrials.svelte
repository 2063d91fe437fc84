<script lang="ts">
  import { api, ask, type Cell } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import { counted, duration, verdictColour } from "../values/text";

  let { run, cell }: { run: number; cell: Cell } = $props();
  // Read again whenever the cell's counts change.
  const counts = $derived(`${cell.n} ${cell.errors} ${cell.running} ${cell.waiting}`);
  const reading = new Resource(() => {
    void counts;
    const query = { suite: cell.suite, task: cell.task, agent: cell.agent };
    return ask(api.GET("/api/runs/{run}/trials", { params: { path: { run }, query } }));
  });
  const trials = $derived(reading.value?.trials ?? null);
</script>

<div
  class="sticky left-4.5 flex flex-wrap gap-x-5.5 gap-y-1.5 w-[calc(100vw_-_60px)] max-h-47.5 pt-2 pb-3 pr-3 overflow-auto"
  data-testid="cell-trials"
>
  {#if reading.fault}
    <Fault message={reading.fault} />
  {:else if !trials}
    <span class="soft">Reading the trials…</span>
  {:else}
    {#each trials as trial (trial.id)}
      {#if trial.state === "waiting"}
        <span class="soft no-underline">trial {trial.number} waits</span>
      {:else}
        <a class="no-underline hover:underline" href={`/trial/${trial.id}`} title={trial.reason}>
          trial {trial.number}
          <strong class={verdictColour(trial.verdict)}
            >{trial.verdict === "unjudged" ? "not judged" : (trial.verdict ?? trial.state)}</strong
          >
          <span class="soft">{counted(trial.calls, "call")}, {duration(trial.turn_ms)}</span>
          {#if trial.mark || trial.noted}
            <span class="border-b border-b-iron" title="by a person">{trial.mark ?? "noted"}</span>
          {/if}
          {#if trial.went_wrong}<span class="block max-w-[60ch] text-sm">{trial.went_wrong}</span
            >{/if}
        </a>
      {/if}
    {/each}
  {/if}
</div>
