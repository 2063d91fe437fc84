<script lang="ts">
  import { untrack } from "svelte";
  import { api, ask, type HoldRule, type Run, type Workspace } from "../api/client";
  import HoldChoice from "../holding/HoldChoice.svelte";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";

  interface Props {
    workspace: Workspace;
    onstarted: (run: Run) => void;
    onclose: () => void;
  }
  let { workspace, onstarted, onclose }: Props = $props();

  // What is chosen first comes from the workspace; after that it is the user's.
  const first = untrack(() => workspace);
  let suites = $state(first.suites.map((s) => s.suite));
  let agents = $state(first.agents.map((a) => a.agent));
  let repeats = $state(first.trials);
  let atOnce = $state(first.at_once);
  let modes = $state<Record<string, string>>({});
  let model = $state("");
  let faults = $state("");
  let hold = $state.raw<HoldRule | null>(null);
  let busy = $state(false);
  let fault = $state("");

  const tasks = $derived(
    workspace.suites
      .filter((s) => suites.includes(s.suite))
      .reduce((n, s) => n + s.tasks.length, 0),
  );
  const several = $derived((workspace.servers ?? []).filter((s) => s.modes.length > 1));
  const total = $derived(tasks * agents.length * (Number(repeats) || 0));

  async function start(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    fault = "";
    try {
      const body = {
        suites: $state.snapshot(suites),
        agents: $state.snapshot(agents),
        tasks: [],
        repeats: Number(repeats),
        at_once: Number(atOnce),
        overrides: {
          modes: Object.fromEntries(Object.entries(modes).filter(([, mode]) => mode)),
          models: (model ? { "*": model } : {}) as Record<string, string>,
          faults: faults || null,
        },
        hold,
      };
      onstarted(await ask(api.POST("/api/runs", { body })));
    } catch (error) {
      fault = (error as Error).message;
    }
    busy = false;
  }
</script>

<Dialog title="Start a run" {onclose}>
  <form onsubmit={start} data-testid="start-run">
    <fieldset>
      <legend>Suites</legend>
      {#each workspace.suites as suite (suite.suite)}
        <Tick bind:group={suites} value={suite.suite}>
          {suite.suite} <span class="soft">&nbsp;{counted(suite.tasks.length, "task")}</span>
        </Tick>
      {/each}
    </fieldset>
    <fieldset class="agents">
      <legend>Agents</legend>
      {#each workspace.agents as agent (agent.agent)}
        <Tick bind:group={agents} value={agent.agent}>
          {agent.agent}
          <span class="soft"
            >&nbsp;{agent.link} · {agent.model}{agent.simulated ? " (simulated)" : ""}</span
          >
        </Tick>
      {/each}
    </fieldset>
    <div class="numbers">
      <label>
        Repeats of each task
        <Field wide type="number" min="1" max="1000" bind:value={repeats} required />
      </label>
      <label>
        Trials side by side
        <Field wide type="number" min="1" max="64" bind:value={atOnce} required />
      </label>
    </div>
    <details class="otherwise">
      <summary>Overrides, in this run only</summary>
      <div class="choices">
        {#each several as server (server.server)}
          <label>
            {server.server}
            <Choice bind:value={modes[server.server]} aria-label={`How ${server.server} is had`}>
              <option value="">as the suites say</option>
              {#each server.modes as mode (mode)}<option value={mode}>{mode}</option>{/each}
            </Choice>
          </label>
        {/each}
        <label>
          Model of every agent
          <Choice bind:value={model}>
            <option value="">as the agents say</option>
            {#each workspace.models ?? [] as name (name)}<option value={name}>{name}</option>{/each}
          </Choice>
        </label>
        {#if workspace.fault_sets?.length}
          <label>
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
    {#if fault}<p class="fault" role="alert">{fault}</p>{/if}
    <div class="end">
      <Button type="submit" kind="go" disabled={busy || total === 0} data-testid="go">
        {busy ? "Starting…" : `Start ${counted(total, "trial")}`}
      </Button>
      {#if total === 0}<span class="soft">Choose at least one suite and one agent.</span>{/if}
    </div>
  </form>
</Dialog>

<style>
  form {
    display: grid;
    gap: 16px;
  }
  fieldset {
    display: grid;
    gap: 6px;
  }
  .agents {
    max-height: 220px;
    overflow: auto;
  }
  legend {
    font-weight: 600;
    margin-bottom: 6px;
  }
  .numbers {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 16px;
  }
  .otherwise summary {
    cursor: pointer;
  }
  .choices {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px 16px;
    padding-top: 8px;
    font-size: 13px;
    align-items: center;
  }
  .choices label {
    display: flex;
    align-items: center;
    justify-content: space-between;
    gap: 8px;
  }
  .fault {
    color: var(--broke);
    margin: 0;
  }
  .end {
    display: flex;
    align-items: center;
    gap: 14px;
  }
</style>
