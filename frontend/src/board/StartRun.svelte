<script lang="ts">
  import { Button, Checkbox, Input, Label, Modal } from "flowbite-svelte";
  import { untrack } from "svelte";
  import { api, ask, type Run, type Workspace } from "../api/client";

  interface Props {
    workspace: Workspace;
    onstarted: (run: Run) => void;
    onclose: () => void;
  }
  let { workspace, onstarted, onclose }: Props = $props();

  let open = $state(true);
  // What is chosen first comes from the workspace; after that it is the user's.
  const first = untrack(() => workspace);
  let suites = $state(first.suites.map((s) => s.suite));
  let agents = $state(first.agents.map((a) => a.agent));
  let repeats = $state(first.trials);
  let atOnce = $state(first.at_once);
  let busy = $state(false);
  let fault = $state("");

  const tasks = $derived(
    workspace.suites
      .filter((s) => suites.includes(s.suite))
      .reduce((n, s) => n + s.tasks.length, 0),
  );
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
      };
      onstarted(await ask(api.POST("/api/runs", { body })));
    } catch (error) {
      fault = (error as Error).message;
    }
    busy = false;
  }
</script>

<Modal bind:open title="Start a run" size="md" {onclose}>
  <form onsubmit={start} data-testid="start-run">
    <fieldset>
      <legend>Suites</legend>
      {#each workspace.suites as suite (suite.suite)}
        <Checkbox bind:group={suites} value={suite.suite}>
          {suite.suite} <span class="soft">&nbsp;{suite.tasks.length} tasks</span>
        </Checkbox>
      {/each}
    </fieldset>
    <fieldset class="agents">
      <legend>Agents</legend>
      {#each workspace.agents as agent (agent.agent)}
        <Checkbox bind:group={agents} value={agent.agent}>
          {agent.agent}
          <span class="soft"
            >&nbsp;{agent.link} · {agent.model}{agent.simulated ? " (simulated)" : ""}</span
          >
        </Checkbox>
      {/each}
    </fieldset>
    <div class="numbers">
      <Label>
        Repeats of each task
        <Input type="number" min="1" max="1000" bind:value={repeats} required />
      </Label>
      <Label>
        Trials side by side
        <Input type="number" min="1" max="64" bind:value={atOnce} required />
      </Label>
    </div>
    {#if fault}<p class="fault" role="alert">{fault}</p>{/if}
    <div class="end">
      <Button type="submit" color="primary" disabled={busy || total === 0} data-testid="go">
        {busy ? "Starting…" : `Start ${total} trials`}
      </Button>
      {#if total === 0}<span class="soft">Choose at least one suite and one agent.</span>{/if}
    </div>
  </form>
</Modal>

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
