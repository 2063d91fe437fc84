<script lang="ts">
  import { api, ask, type Cell, type TrialLine } from "../api/client";
  import { counted, duration } from "../values/text";

  let { run, cell }: { run: number; cell: Cell } = $props();
  let trials = $state<TrialLine[] | null>(null);
  let fault = $state("");

  // Read again whenever the cell's counts change.
  const counts = $derived(`${cell.n} ${cell.errors} ${cell.running} ${cell.waiting}`);
  $effect(() => {
    void counts;
    const { suite, task, agent } = cell;
    ask(
      api.GET("/api/runs/{run}/trials", {
        params: { path: { run }, query: { suite, task, agent } },
      }),
    ).then(
      (read) => (trials = read.trials),
      (error: Error) => (fault = error.message),
    );
  });
</script>

<div class="trials" data-testid="cell-trials">
  {#if fault}
    <span role="alert">{fault}</span>
  {:else if !trials}
    <span class="soft">Reading the trials…</span>
  {:else}
    {#each trials as trial (trial.id)}
      {#if trial.state === "waiting"}
        <span class="trial soft">trial {trial.number} waits</span>
      {:else}
        <a class={["trial", trial.verdict]} href={`/trial/${trial.id}`} title={trial.reason}>
          trial {trial.number}
          <strong
            >{trial.verdict === "unjudged" ? "not judged" : (trial.verdict ?? trial.state)}</strong
          >
          <span class="soft">{counted(trial.calls, "call")}, {duration(trial.turn_ms)}</span>
          {#if trial.mark || trial.noted}
            <span class="by-hand" title="by a person">{trial.mark ?? "noted"}</span>
          {/if}
          {#if trial.went_wrong}<span class="wrong">{trial.went_wrong}</span>{/if}
        </a>
      {/if}
    {/each}
  {/if}
</div>

<style>
  .by-hand {
    border-bottom: 1px solid var(--iron);
  }
  .trials {
    position: sticky;
    left: 18px;
    width: calc(100vw - 60px);
    display: flex;
    flex-wrap: wrap;
    gap: 6px 22px;
    padding: 8px 12px 12px 0;
    max-height: 190px;
    overflow: auto;
  }
  .trial {
    text-decoration: none;
  }
  .wrong {
    display: block;
    max-width: 60ch;
    font-size: 12.5px;
  }
  a.trial:hover {
    text-decoration: underline;
  }
  .pass strong {
    color: var(--holds);
  }
  .fail strong {
    color: var(--broke);
  }
  .error strong {
    color: var(--doubt);
  }
</style>
