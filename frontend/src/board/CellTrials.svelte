<script lang="ts">
  import { api, ask, type Cell, type TrialLine } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import Sentence from "../values/Sentence.svelte";
  import { counted, duration, verdictColour } from "../values/text";
  import TrialTimes from "./TrialTimes.svelte";

  let { run, cell }: { run: number; cell: Cell } = $props();
  // Read again whenever the cell's counts change.
  const counts = $derived(`${cell.n} ${cell.errors} ${cell.running} ${cell.waiting}`);
  const reading = new Resource(() => {
    void counts;
    const query = { suite: cell.suite, task: cell.task, agent: cell.agent };
    return ask(api.GET("/api/runs/{run}/trials", { params: { path: { run }, query } }));
  });
  const trials = $derived(reading.value?.trials ?? null);

  /** Trials that ended alike stand together, with what went wrong first in them. */
  interface Group {
    verdict: string;
    why: string | null;
    trials: TrialLine[];
  }
  const ORDER = ["fail", "error", "pass", "unjudged"];
  const groups = $derived.by((): Group[] => {
    const found: Record<string, Group> = {};
    for (const trial of trials ?? []) {
      const verdict = trial.verdict ?? trial.state;
      const why = trial.went_wrong ?? (verdict === "error" ? trial.reason : null);
      const key = `${verdict} ${why}`;
      const group = (found[key] ??= { verdict, why, trials: [] });
      group.trials.push(trial);
    }
    const place = (group: Group) => {
      const at = ORDER.indexOf(group.verdict);
      return at < 0 ? ORDER.length : at;
    };
    return Object.values(found).sort(
      (a, b) => place(a) - place(b) || b.trials.length - a.trials.length,
    );
  });
  const WORDS: Record<string, string> = {
    pass: "passed",
    fail: "failed",
    error: "could not run",
    unjudged: "not judged",
  };
</script>

<div
  class="sticky left-4.5 flex max-h-62 w-[calc(100vw-60px)] flex-wrap gap-x-8 gap-y-2 overflow-auto pt-2 pr-3 pb-3"
  data-testid="cell-trials"
>
  {#if reading.fault}
    <Fault message={reading.fault} />
  {:else if !trials}
    <span class="soft">Reading the trials…</span>
  {:else}
    <ul class="min-w-80 flex-1">
      {#each groups as group (`${group.verdict} ${group.why}`)}
        <li class="mb-1.5">
          <strong class={verdictColour(group.verdict)}
            >{group.trials.length} {WORDS[group.verdict] ?? group.verdict}</strong
          >
          {#if group.why}<span class="wrap-anywhere"><Sentence words={group.why} /></span>{/if}
          <div class="flex flex-wrap gap-x-4 text-sm">
            {#each group.trials as trial (trial.id)}
              {#if trial.state === "waiting"}
                <span class="soft">trial {trial.number}</span>
              {:else}
                <a class="hover:underline" href={`/trial/${trial.id}`} title={trial.reason}>
                  trial {trial.number}
                  <span class="soft">{counted(trial.calls, "call")}, {duration(trial.turn_ms)}</span
                  >
                  {#if trial.mark || trial.noted}
                    <span class="border-b border-b-iron" title="by a person"
                      >{trial.mark ?? "noted"}</span
                    >
                  {/if}
                </a>
              {/if}
            {/each}
          </div>
        </li>
      {/each}
    </ul>
    <TrialTimes {trials} />
  {/if}
</div>
