<script lang="ts">
  /* The arms of a run of a plan, each against its baseline; and the sweep, if it is one. */
  import { address } from "../address.svelte";
  import { api, ask, type ArmReport } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import Notice from "../frame/Notice.svelte";
  import Choice from "../kit/Choice.svelte";
  import Table from "../kit/Table.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import Sentence from "../values/Sentence.svelte";
  import { clockTime, counted, day, duration, grouped } from "../values/text";
  import Difference from "./Difference.svelte";
  import Sweep from "./Sweep.svelte";

  const list = new Resource(() => ask(api.GET("/api/compare/runs")));
  const runs = $derived(list.value?.runs.filter((one) => one.plan) ?? null);
  const run = $derived(Number(address.query.get("run")) || (runs?.[0]?.run ?? null));
  const reading = new Resource(() =>
    run === null ? null : ask(api.GET("/api/runs/{run}/arms", { params: { path: { run } } })),
  );
  const report = $derived(reading.fault ? null : reading.value);

  const ORDERS = [
    ["plan", "as the plan has them"],
    ["pass", "by pass rate"],
    ["choice", "by choice"],
    ["tokens", "by tokens"],
    ["time", "by time of turns"],
  ] as const;
  const order = $derived(address.query.get("sort") ?? "plan");
  const KEYS: Record<string, (arm: ArmReport) => number | null> = {
    pass: (arm) => (arm.pass_rate ? -arm.pass_rate.mean : null),
    choice: (arm) => (arm.choice ? -arm.choice.mean : null),
    tokens: (arm) => arm.tokens,
    time: (arm) => arm.turn_ms,
  };
  const arms = $derived.by(() => {
    const key = KEYS[order];
    const given = report?.arms ?? [];
    if (!key) return given;
    return [...given].sort((one, other) => (key(one) ?? Infinity) - (key(other) ?? Infinity));
  });
  const reach = $derived.by(() => {
    const all = arms.flatMap((arm) => [arm.pass_difference, arm.choice_difference]);
    const far = all.flatMap((d) => (d ? [d.difference, d.low ?? 0, d.high ?? 0] : []));
    return Math.max(0.1, ...far.map(Math.abs));
  });
  const decided = $derived(arms.filter((arm) => arm.pass_difference && isDecided(arm)));

  const compared = $derived(arms.filter((arm) => arm.against !== null).length);
  /** Comparisons of which one is told apart by chance often enough to be said. */
  const MANY = 10;

  function isDecided(arm: ArmReport): boolean {
    return !arm.pass_difference?.says.startsWith("cannot be");
  }
  const short = (arm: ArmReport) => arm.arm.slice(arm.agent.length).replace(/^ · /, "");
  const link = (arm: ArmReport) =>
    `/compare?a=${encodeURIComponent(`${run}:${arm.against}`)}&b=${encodeURIComponent(`${run}:${arm.arm}`)}`;
</script>

{#if list.fault}
  <Notice tone="broke" title="The runs cannot be shown"><p>{list.fault}</p></Notice>
{:else if !runs}
  <Waiting>Reading the runs…</Waiting>
{:else if !runs.length}
  <Notice title="No plan has run yet">
    <p>A plan varies a model, a wording, an offer or the like; each variation is an arm.</p>
    <a href="/compare?view=plans">To the plans</a>
  </Notice>
{:else}
  <div class="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2 text-sm">
    <Choice
      class="max-w-120"
      aria-label="Run"
      value={String(run)}
      onchange={(e) => address.mark("run", e.currentTarget.value)}
    >
      {#each runs as one (one.run)}
        <option value={String(one.run)}
          >Run {one.run} · {one.plan} · {day(one.created_at)} {clockTime(one.created_at)}</option
        >
      {/each}
    </Choice>
    <label class="flex items-center gap-2">
      Arms
      <Choice
        value={order}
        onchange={(e) =>
          address.mark("sort", e.currentTarget.value === "plan" ? null : e.currentTarget.value)}
      >
        {#each ORDERS as [name, words] (name)}<option value={name}>{words}</option>{/each}
      </Choice>
    </label>
    <a class="underline" href={`/board/${run}`}>On the board</a>
  </div>
  {#if reading.fault}
    <Notice tone="broke" title="These arms cannot be shown"><p>{reading.fault}</p></Notice>
  {:else if !report}
    <Waiting>Comparing the arms…</Waiting>
  {:else}
    <h1 class="mb-1">{report.title ?? report.plan}</h1>
    <p class="text-sm text-soft" data-testid="arms-said">
      {counted(report.arms.length, "arm")}: {decided.length
        ? `${counted(decided.length, "arm is", "arms are")} told apart from the baseline`
        : "none is told apart from its baseline"}.
      {#if compared >= MANY}
        Of {compared} arms that do not differ, about {Math.round(compared * 0.05)} would be told apart
        by chance.
      {/if}
      {#if report.saved !== null}
        {#if report.decided_after !== null}
          Decided after {counted(report.decided_after, "repeat")}:
        {:else}
          Looked at after {report.looks.join(", ")} repeats:
        {/if}
        <b class="text-ink">{report.saved} of {report.all_trials} trials saved</b>. Limits by z =
        {report.z}, the boundary for {counted(report.looks.length, "look")}.
      {/if}
    </p>
    <Table wide class="mt-2" data-testid="arms" aria-label="Arms against their baseline">
      <thead>
        <tr class="text-left text-soft">
          <th class="py-1 font-medium" scope="col">arm</th>
          <th class="font-medium" scope="col">passes</th>
          <th class="pr-3 font-medium" scope="col">against the baseline</th>
          <th class="pr-3 font-medium" scope="col">choice</th>
          <th class="font-medium" scope="col">against the baseline</th>
          <th class="text-right font-medium" scope="col">tools</th>
          <th class="pl-3 text-right font-medium" scope="col">tokens</th>
          <th class="text-right font-medium" scope="col">turn</th>
          <th class="pl-3 font-medium" scope="col">pass rate</th>
        </tr>
      </thead>
      <tbody>
        {#each arms as arm (arm.arm)}
          {@const plain = order === "plan" && short(arm) ? `· ${short(arm)}` : arm.arm}
          <tr class="border-t border-t-faint align-middle" data-arm={arm.arm}>
            <th class="py-0.5 pr-3 text-left font-medium wrap-anywhere" scope="row">
              {#if arm.against}
                <a href={link(arm)} class="underline" title={`${arm.arm} against ${arm.against}`}
                  >{#if report.mends}<Sentence words={arm.change ?? plain} />{:else}{plain}{/if}</a
                >
              {:else if report.mends}as it is
              {:else}{arm.arm}{/if}
            </th>
            <td class="pr-3 whitespace-nowrap"
              >{arm.passes}/{arm.n}{#if arm.errors}<span class="text-doubt">
                  + {counted(arm.errors, "error")}</span
                >{/if}</td
            >
            <td class="pr-3"><Difference found={arm.pass_difference} {reach} /></td>
            <td class="pr-3">{arm.choice ? arm.choice.mean.toFixed(2) : "–"}</td>
            <td class="pr-3"><Difference found={arm.choice_difference} {reach} /></td>
            <td class="text-right">{arm.tools === null ? "–" : Math.round(arm.tools)}</td>
            <td class="pl-3 text-right"
              >{arm.tokens === null ? "–" : grouped(Math.round(arm.tokens))}</td
            >
            <td class="pl-3 text-right whitespace-nowrap"
              >{arm.turn_ms === null ? "–" : duration(arm.turn_ms)}</td
            >
            <td class="pl-3 wrap-anywhere"
              >{arm.against
                ? (arm.pass_difference?.says ?? "not seen")
                : "baseline"}{#if arm.meaning}: <b>{arm.meaning}</b
                >{/if}{#if arm.stopped_after !== null && arm.against && report.looks.at(-1) !== arm.stopped_after}<span
                  class="text-soft">, stopped after {arm.stopped_after} repeats</span
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </Table>
    {#if report.sweep.length}<Sweep {report} />{/if}
  {/if}
{/if}
