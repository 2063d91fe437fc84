<script lang="ts">
  /* Which agents run, found by their names. */
  import type { Workspace } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";

  interface Props {
    workspace: Workspace;
    chosen: string[];
  }
  let { workspace, chosen = $bindable() }: Props = $props();
  const MANY = 6;

  let find = $state("");
  const fitting = $derived(
    workspace.agents.filter((a) =>
      `${a.agent} ${a.title ?? ""} ${a.model ?? ""}`.toLowerCase().includes(find.toLowerCase()),
    ),
  );

  function setAll(on: boolean) {
    const names = fitting.map((a) => a.agent);
    const rest = chosen.filter((a) => !names.includes(a));
    chosen = on ? [...rest, ...names] : rest;
  }
</script>

<fieldset data-testid="agent-choice">
  <legend class="mb-1 flex w-full items-baseline gap-3">
    <span class="font-semibold">Agents</span>
    <span class="soft text-sm">{chosen.length} of {workspace.agents.length}</span>
    <Button kind="link" class="ml-auto text-sm" onclick={() => setAll(true)}
      >{find ? "all found" : "all"}</Button
    >
    <Button kind="link" class="text-sm" onclick={() => setAll(false)}
      >{find ? "none found" : "none"}</Button
    >
  </legend>
  {#if workspace.agents.length > MANY}
    <Field
      wide
      class="mb-1"
      placeholder="Find an agent"
      aria-label="Find an agent"
      bind:value={find}
    />
  {/if}
  <div class="max-h-56 overflow-auto">
    {#each fitting as agent (agent.agent)}
      <Tick class="flex! py-px" bind:group={chosen} value={agent.agent}>
        <span class="wrap-anywhere">{agent.agent}</span>
        <span class="soft ml-1.5 text-sm"
          >{agent.link} · {agent.model}{agent.simulated ? " (simulated)" : ""}</span
        >
      </Tick>
    {:else}
      <p class="soft text-sm">No agent by that name.</p>
    {/each}
  </div>
</fieldset>
