<script lang="ts">
  /* What is varied, each combination an arm: models, tools or none, modes, decoys. */
  import type { Workspace } from "../api/client";
  import type { Varied } from "../compare/planText";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";

  interface Props {
    workspace: Workspace;
    agents: string[];
    varied: Varied;
  }
  let { workspace, agents, varied = $bindable() }: Props = $props();

  const several = $derived((workspace.servers ?? []).filter((s) => s.modes.length > 1));
  const mocks = $derived((workspace.servers ?? []).filter((s) => s.modes.includes("mock")));
  let counts = $state("0, 20, 100");

  function toggle(list: string[], name: string): string[] {
    return list.includes(name) ? list.filter((one) => one !== name) : [...list, name];
  }
  function setDecoys(from: string) {
    const add = [...new Set(counts.split(/\D+/).filter(Boolean).map(Number))];
    varied.decoys = from && add.length ? { from, add } : null;
  }
</script>

<details data-testid="vary">
  <summary class="cursor-pointer leading-6">Vary, to compare arms with each other</summary>
  <div class="grid grid-cols-[120px_1fr] items-baseline gap-x-3 gap-y-1.5 pt-2 text-sm">
    <span>Models</span>
    <span class="flex flex-wrap gap-x-4">
      {#each workspace.models ?? [] as model (model)}
        <label class="flex items-center gap-1.5"
          ><Tick
            checked={varied.models.includes(model)}
            onchange={() => (varied.models = toggle(varied.models, model))}
          />{model}</label
        >
      {/each}
    </span>
    <span>Tools</span>
    <label class="flex items-center gap-1.5"
      ><Tick bind:checked={varied.withoutTools} />also without any, to see what they contribute</label
    >
    {#each several as server (server.server)}
      <span>{server.server}</span>
      <span class="flex flex-wrap gap-x-4">
        {#each server.modes as mode (mode)}
          <label class="flex items-center gap-1.5"
            ><Tick
              checked={varied.modes[server.server]?.includes(mode) ?? false}
              onchange={() =>
                (varied.modes = {
                  ...varied.modes,
                  [server.server]: toggle(varied.modes[server.server] ?? [], mode),
                })}
            />{mode}</label
          >
        {/each}
      </span>
    {/each}
    <span>Decoys from</span>
    <span class="flex items-center gap-2">
      <Choice
        aria-label="Decoys from"
        value={varied.decoys?.from ?? ""}
        onchange={(e) => setDecoys(e.currentTarget.value)}
      >
        <option value="">none</option>
        {#each mocks as server (server.server)}
          <option value={server.server}>{server.server}</option>
        {/each}
      </Choice>
      {#if varied.decoys}
        <Field
          class="w-32"
          aria-label="How many decoys"
          bind:value={counts}
          onchange={() => setDecoys(varied.decoys?.from ?? "")}
        /> of its tools
      {/if}
    </span>
  </div>
  <p class="pt-1.5 text-sm text-soft">
    Instructions, wording, offers, faults and parameters are varied in the plan’s text.
    {#if agents.length > 1}Each of the {agents.length} agents gets every arm.{/if}
  </p>
</details>
