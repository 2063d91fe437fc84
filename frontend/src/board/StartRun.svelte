<script lang="ts">
  /* Chooses what runs. It begins with what the place shows, or with the last choice. */
  import { untrack } from "svelte";
  import {
    api,
    ask,
    type Board,
    type HoldRule,
    type Run,
    type RunRequest,
    type Workspace,
  } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import HoldChoice from "../holding/HoldChoice.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Field from "../kit/Field.svelte";
  import { address } from "../address.svelte";
  import { armsOf, freePlanName, planText, type Varied } from "../compare/planText";
  import { putDraft } from "../editor/drafts";
  import { counted } from "../values/text";
  import AgentChoice from "./AgentChoice.svelte";
  import { addressOf, firstChoice, keepChoice } from "./chosenRun";
  import RunEstimate from "./RunEstimate.svelte";
  import TaskChoice from "./TaskChoice.svelte";
  import VaryChoice from "./VaryChoice.svelte";

  interface Props {
    workspace: Workspace;
    /** The board that is shown, if one is. */
    shown: Board | null;
    onstarted: (run: Run) => void;
    onclose: () => void;
  }
  let { workspace, shown, onstarted, onclose }: Props = $props();

  // What is chosen first comes from the place; after that it is the user's.
  const begin = untrack(() => firstChoice(workspace, shown, address.query.get("suite")));
  let tasks = $state(begin.tasks);
  let agents = $state(begin.agents);
  let repeats = $state(untrack(() => workspace.trials));
  let atOnce = $state<number | undefined>(untrack(() => workspace.at_once));
  let atOnceIsChosen = false;
  let on = $state("");
  let modes = $state<Record<string, string>>({});
  let model = $state(address.query.get("model") ?? "");
  let faults = $state("");
  let hold = $state.raw<HoldRule | null>(null);
  let varied = $state<Varied>({ models: [], withoutTools: false, modes: {}, decoys: null });
  const arms = $derived(armsOf(varied));
  const act = new Action();

  const several = $derived((workspace.servers ?? []).filter((s) => s.modes.length > 1));
  const total = $derived(tasks.length * agents.length * (Number(repeats) || 0));
  const missing = $derived(
    tasks.length ? (agents.length ? "How often?" : "Choose an agent.") : "Choose a task.",
  );
  const request = $derived.by((): RunRequest => {
    const chosen = workspace.suites.filter((s) =>
      s.tasks.some((t) => tasks.includes(addressOf(s.suite, t.task))),
    );
    const whole = chosen.reduce((n, s) => n + s.tasks.length, 0) === tasks.length;
    return {
      suites: chosen.map((s) => s.suite),
      agents: workspace.agents.map((a) => a.agent).filter((a) => agents.includes(a)),
      tasks: whole ? [] : $state.snapshot(tasks),
      repeats: Number(repeats),
      at_once: Number(atOnce) || 0,
      on: on.trim() || null,
      overrides: {
        modes: Object.fromEntries(Object.entries(modes).filter(([, mode]) => mode)),
        models: (model ? { "*": model } : {}) as Record<string, string>,
        faults: faults || null,
      },
      hold,
    };
  });

  /** A cluster takes as many as it has room for, unless somebody says how many. */
  function chooseAtOnce() {
    if (!atOnceIsChosen) atOnce = on.trim() ? undefined : workspace.at_once;
  }

  /** What is varied becomes a plan, which is looked at before it starts. */
  function makePlan() {
    const plan = freePlanName(workspace);
    const chosen = { tasks, agents: request.agents, repeats: Number(repeats) };
    putDraft(`plans/${plan}.yaml`, {
      text: planText(plan, chosen, $state.snapshot(varied)),
      stamp: null,
      notes: [],
      note: "A plan of what you chose; it is not saved yet, and can be started as it is.",
    });
    keepChoice(workspace.name, { tasks, agents });
    address.go(`/compare?view=plans&plan=${plan}`);
  }

  function start(event: SubmitEvent) {
    event.preventDefault();
    if (arms > 1) return makePlan();
    return act.run(async () => {
      const run = await ask(api.POST("/api/runs", { body: request }));
      keepChoice(workspace.name, { tasks, agents });
      onstarted(run);
    });
  }
</script>

<Dialog title="Start a run" {onclose}>
  <form class="grid gap-4" onsubmit={start} data-testid="start-run">
    <div class="grid grid-cols-2 gap-6">
      <TaskChoice {workspace} bind:chosen={tasks} />
      <AgentChoice {workspace} bind:chosen={agents} />
    </div>
    <div class="flex flex-wrap items-center gap-x-6 gap-y-2 text-sm">
      <label class="flex items-center gap-2">
        Repeats of each task
        <Field class="w-16" type="number" min="1" max="1000" bind:value={repeats} required />
      </label>
      <label class="flex items-center gap-2">
        Trials side by side
        <Field
          class="w-16"
          type="number"
          min="1"
          max="1000"
          bind:value={atOnce}
          oninput={() => (atOnceIsChosen = true)}
          required={!on.trim()}
        />
      </label>
      <label class="flex items-center gap-2">
        On
        <Field
          class="w-72"
          bind:value={on}
          oninput={chooseAtOnce}
          placeholder="this machine"
          list="clusters"
          aria-describedby="on-help"
        />
      </label>
      <datalist id="clusters">
        {#each workspace.clusters ?? [] as cluster (cluster)}<option value={cluster}
          ></option>{/each}
      </datalist>
      {#if on.trim()}
        <span id="on-help" class="soft">
          {on.trim().startsWith("local")
            ? "processes of this machine, as in local:4"
            : "a Dask scheduler, as in tcp://host:8786"}; as many side by side as it takes, unless
          you say how many
        </span>
      {/if}
    </div>
    <details open={model !== ""}>
      <summary class="cursor-pointer">Overrides, in this run only</summary>
      <div class="grid items-center gap-x-6 gap-y-2 grid-cols-[1fr_1fr] pt-2 text-sm">
        {#each several as server (server.server)}
          <label class="flex items-center justify-between gap-2">
            {server.server}
            <Choice bind:value={modes[server.server]} aria-label={`How ${server.server} is had`}>
              <option value="">as the suites say</option>
              {#each server.modes as mode (mode)}<option value={mode}>{mode}</option>{/each}
            </Choice>
          </label>
        {/each}
        <label class="flex items-center justify-between gap-2">
          Model of every agent
          <Choice bind:value={model}>
            <option value="">as the agents say</option>
            {#each workspace.models ?? [] as name (name)}<option value={name}>{name}</option>{/each}
          </Choice>
        </label>
        {#if workspace.fault_sets?.length}
          <label class="flex items-center justify-between gap-2">
            Faults laid over every task
            <Choice bind:value={faults}>
              <option value="">none</option>
              {#each workspace.fault_sets as name (name)}<option value={name}>{name}</option>{/each}
            </Choice>
          </label>
        {/if}
        <HoldChoice rule={hold} onset={(rule) => (hold = rule)} />
      </div>
    </details>
    <VaryChoice {workspace} {agents} bind:varied />
    {#if total && arms < 2}<RunEstimate {request} />{/if}
    <Fault message={act.fault} />
    <div class="flex items-center gap-3.5">
      <Button
        type="submit"
        kind="go"
        disabled={act.busy || total === 0}
        data-autofocus
        data-testid="go"
      >
        {#if arms > 1}
          Plan {counted(arms * agents.length, "arm")}, {counted(total * arms, "trial")}
        {:else}
          {act.busy ? "Starting…" : `Start ${counted(total, "trial")}`}
        {/if}
      </Button>
      {#if arms > 1 && total}
        <span class="soft text-sm">Shown as a plan first, with what it would take.</span>
      {/if}
      {#if total === 0}<span class="soft">{missing}</span>{/if}
    </div>
  </form>
</Dialog>
