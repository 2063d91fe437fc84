<script lang="ts">
  /* Two sides: is B better than A, where, and can it be believed? */
  import { address } from "../address.svelte";
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import Notice from "../frame/Notice.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";
  import { keepText } from "../sharing/keeping";
  import Waiting from "../kit/Waiting.svelte";
  import { clockTime, counted, day } from "../values/text";
  import Chosen from "./Chosen.svelte";
  import Gains from "./Gains.svelte";
  import Metrics from "./Metrics.svelte";
  import OtherScript from "./OtherScript.svelte";
  import SetupDiff from "./SetupDiff.svelte";
  import Times from "./Times.svelte";

  const list = new Resource(() => ask(api.GET("/api/compare/runs")));
  const runs = $derived(list.value?.runs ?? null);
  // Without a choice: two arms of the newest run, or it against the one before.
  const first = $derived.by((): [string | null, string | null] => {
    const [newest, before] = runs ?? [];
    if (!newest) return [null, null];
    const [one, other] = newest.agents;
    if (other && (newest.plan || !before))
      return [`${newest.run}:${one}`, `${newest.run}:${other}`];
    return [before ? String(before.run) : null, String(newest.run)];
  });
  const a = $derived(address.query.get("a") ?? first[0]);
  const b = $derived(address.query.get("b") ?? first[1]);
  const reading = new Resource(() =>
    a && b ? ask(api.GET("/api/compare", { params: { query: { a, b } } })) : null,
  );
  const found = $derived(reading.fault ? null : reading.value);
  const apart = $derived(
    [
      { tasks: found?.only_a ?? [], why: "only A has" },
      { tasks: found?.only_b ?? [], why: "only B has" },
    ].filter(({ tasks }) => tasks.length > 0),
  );

  const act = new Action();
  function keepReport() {
    if (!a || !b) return;
    const query = { a, b };
    return act.run(async () => {
      const page = await ask(api.GET("/api/compare/report", { params: { query } }));
      keepText(page.name, page.text);
    });
  }

  function swap() {
    if (a && b) address.go(`/compare?a=${encodeURIComponent(b)}&b=${encodeURIComponent(a)}`);
  }
</script>

{#snippet side(name: "a" | "b", value: string | null)}
  {@const [run = "", agent = ""] = (value ?? "").split(":")}
  {@const chosen = runs?.find((one) => String(one.run) === run)}
  <span class="flex items-center gap-1.5" role="group" aria-label={`Side ${name.toUpperCase()}`}>
    <b>{name.toUpperCase()}</b>
    <Choice
      class="max-w-80"
      aria-label={`Run of ${name.toUpperCase()}`}
      value={run}
      onchange={(e) => address.mark(name, e.currentTarget.value)}
    >
      {#each runs ?? [] as one (one.run)}
        <option value={String(one.run)}
          >Run {one.run} · {one.title} · {day(one.created_at)} {clockTime(one.created_at)}</option
        >
      {/each}
    </Choice>
    <Choice
      aria-label={`Agent of ${name.toUpperCase()}`}
      value={agent}
      onchange={(e) =>
        address.mark(name, e.currentTarget.value ? `${run}:${e.currentTarget.value}` : run)}
    >
      <option value="">{chosen?.plan ? "all its arms" : "all its agents"}</option>
      {#each chosen?.agents ?? [] as one (one)}<option value={one}>{one}</option>{/each}
    </Choice>
  </span>
{/snippet}

<div>
  {#if list.fault}
    <Notice tone="broke" title="The runs cannot be shown"><p>{list.fault}</p></Notice>
  {:else if !runs}
    <Waiting>Reading the runs…</Waiting>
  {:else if !runs.length}
    <Notice title="No run yet">
      <p>Two runs, or two agents in one, are compared here.</p>
      <a href="/board?start=1">Start a run</a>
    </Notice>
  {:else}
    <div class="mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
      {@render side("a", a)}
      <Button onclick={swap} title="B against A the other way round">⇄ Swap</Button>
      {@render side("b", b)}
    </div>
    <Fault message={act.fault} />
    {#if reading.fault}
      <Notice tone="broke" title="These two cannot be compared"><p>{reading.fault}</p></Notice>
    {:else if !a || !b}
      <Notice title="One run is there">
        <p>Choose two of its agents, or run it again after a change.</p>
      </Notice>
    {:else if !found}
      <Waiting>Comparing…</Waiting>
    {:else}
      <div class="flex items-start gap-4">
        <h1 class="mb-1 mr-auto" data-testid="says">
          {found.sentence}
        </h1>
        <Button onclick={keepReport} disabled={act.busy}
          >{act.busy ? "Making it…" : "Report"}</Button
        >
      </div>
      <p class="text-sm text-soft">
        Over {counted(found.shared_tasks, "task")} that both have{found.looks
          ? `. The run could end at ${counted(found.looks, "look")}, so its limits are wider than usual`
          : ""}.
      </p>
      <SetupDiff a={found.a} b={found.b} />
      {#if found.other_script.length}
        <OtherScript tasks={found.other_script} ondone={() => void reading.read()} />
      {/if}
      {#each apart as { tasks, why } (why)}
        <p class="text-sm text-doubt">
          {counted(tasks.length, "task")}
          {why}: {tasks.slice(0, 4).join(", ")}{tasks.length > 4 ? " …" : ""}
        </p>
      {/each}
      <Metrics metrics={found.metrics} margin={found.same_within} />
      <div class="mt-4 grid grid-cols-2 gap-8 max-md:block">
        <Gains tasks={found.tasks} />
        <div>
          <Chosen
            confusions={found.confusions}
            never={found.never_confused}
            a={found.a}
            b={found.b}
          />
          <Times a={found.turns_a} b={found.turns_b} />
        </div>
      </div>
    {/if}
  {/if}
</div>
