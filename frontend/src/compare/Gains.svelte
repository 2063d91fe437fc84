<script lang="ts">
  /* Tasks by how much B gained or lost, with what tipped, and its trials. */
  import type { TaskReport } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";
  import { counted } from "../values/text";

  let { tasks }: { tasks: TaskReport[] } = $props();
  const FEW = 15;
  let all = $state(false);

  const changed = $derived(
    tasks
      .filter((task) => task.difference)
      .sort((one, other) => Math.abs(other.difference ?? 0) - Math.abs(one.difference ?? 0)),
  );
  const alike = $derived(tasks.length - changed.length);
  /** What became of a task that was steady, or is no longer, as the ledger says it. */
  function became({ a, b }: TaskReport): string {
    if (a.passes === a.n && b.passes === 0) return "broke";
    if (a.passes === 0 && b.passes === b.n) return "mended";
    const steady = a.passes === 0 || a.passes === a.n;
    return steady && b.passes > 0 && b.passes < b.n ? "wavers now" : "";
  }

  const failing = (task: TaskReport) => ((task.difference ?? 0) < 0 ? task.b : task.a).failed;

  /** A trial that failed on the worse side, beside the other side's of the same place. */
  function beside(task: TaskReport): string | null {
    const [worse, better] = (task.difference ?? 0) < 0 ? [task.b, task.a] : [task.a, task.b];
    const place = worse.trials.indexOf(worse.failed[0] ?? -1);
    const [one, other] = [worse.trials[place], better.trials[place] ?? better.trials[0]];
    if (one === undefined || other === undefined) return null;
    const [a, b] = worse === task.a ? [one, other] : [other, one];
    return `/compare?view=trials&a=${a}&b=${b}`;
  }
</script>

<section aria-label="Gains and losses" data-testid="gains">
  <h2>Gains and losses</h2>
  {#if changed.length}
    <Table wide>
      <tbody>
        {#each all ? changed : changed.slice(0, FEW) as task (`${task.suite}/${task.task}/${task.agent}`)}
          {@const gained = (task.difference ?? 0) > 0}
          <tr class="border-t border-t-faint align-baseline">
            <th
              class={[
                "py-0.5 pr-2 text-left font-medium whitespace-nowrap",
                gained ? "text-holds" : "text-broke",
              ]}
              scope="row">{gained ? "▲ gained" : "▼ lost"}</th
            >
            <td class="pr-2 wrap-anywhere" title={`${task.suite}/${task.task}`}
              >{task.task}{#if task.agent}<span class="ml-2 text-soft">{task.agent}</span>{/if}</td
            >
            <td class="pr-2 whitespace-nowrap"
              >{task.a.passes}/{task.a.n} → {task.b.passes}/{task.b.n}
              <span class="text-soft">{became(task)}</span></td
            >
            <td class="max-w-32 truncate pr-2 text-soft" title={task.tipped}>{task.tipped ?? ""}</td
            >
            <td class="text-right whitespace-nowrap">
              {#if beside(task)}<a class="underline" href={beside(task)}>A beside B</a>{/if}
              {#each failing(task).slice(0, 3) as trial, i (trial)}
                <a class="ml-1.5 underline" href={`/trial/${trial}`}>{i === 0 ? "trial" : i + 1}</a>
              {/each}
            </td>
          </tr>
        {/each}
      </tbody>
    </Table>
    {#if changed.length > FEW}
      <Button kind="link" aria-expanded={all} onclick={() => (all = !all)}
        >{all ? "fewer" : `${changed.length - FEW} more`}</Button
      >
    {/if}
  {/if}
  <p class="text-sm text-soft">
    {counted(alike, "task")} passed as often on both sides.
  </p>
</section>
