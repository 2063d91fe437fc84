<script lang="ts">
  /* Which tasks are run: whole suites, those with a tag, or single ones. */
  import type { Workspace } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Tick from "../kit/Tick.svelte";
  import { addresses, addressOf } from "./chosenRun";

  interface Props {
    workspace: Workspace;
    /** As suite/task. */
    chosen: string[];
  }
  let { workspace, chosen = $bindable() }: Props = $props();

  let opened = $state<string[]>([]);
  const picked = $derived(new Set(chosen));
  const tags = $derived([
    ...new Set(workspace.suites.flatMap((s) => s.tasks.flatMap((t) => t.tags))),
  ]);

  function set(tasks: string[], on: boolean) {
    const rest = chosen.filter((t) => !tasks.includes(t));
    chosen = on ? [...rest, ...tasks] : rest;
  }

  function tagged(tag: string): string[] {
    return workspace.suites.flatMap((s) =>
      s.tasks.filter((t) => t.tags.includes(tag)).map((t) => addressOf(s.suite, t.task)),
    );
  }

  function toggle(suite: string) {
    opened = opened.includes(suite) ? opened.filter((s) => s !== suite) : [...opened, suite];
  }
</script>

<fieldset data-testid="task-choice">
  <legend class="mb-1 flex w-full items-baseline gap-3">
    <span class="font-semibold">Tasks</span>
    <span class="soft text-sm">{chosen.length} of {addresses(workspace).length}</span>
    <Button kind="link" class="ml-auto text-sm" onclick={() => (chosen = addresses(workspace))}
      >all</Button
    >
    <Button kind="link" class="text-sm" onclick={() => (chosen = [])}>none</Button>
  </legend>
  {#if tags.length}
    <p class="mb-1 text-sm">
      <span class="soft">only those tagged</span>
      {#each tags as tag (tag)}
        <Button kind="link" class="mr-2" onclick={() => (chosen = tagged(tag))}>{tag}</Button>
      {/each}
    </p>
  {/if}
  <div class="max-h-56 overflow-auto">
    {#each workspace.suites as suite (suite.suite)}
      {@const tasks = suite.tasks.map((t) => addressOf(suite.suite, t.task))}
      {@const count = tasks.filter((t) => picked.has(t)).length}
      <div class="flex items-baseline gap-2 py-px">
        <Tick checked={count === tasks.length && count > 0} onchange={(on) => set(tasks, on)}
          >{suite.suite}</Tick
        >
        <Button
          kind="link"
          class="text-sm"
          aria-expanded={opened.includes(suite.suite)}
          onclick={() => toggle(suite.suite)}
          >{count} of {tasks.length} {tasks.length === 1 ? "task" : "tasks"}</Button
        >
      </div>
      {#if opened.includes(suite.suite)}
        <div class="ml-6">
          {#each suite.tasks as task (task.task)}
            {@const address = addressOf(suite.suite, task.task)}
            <Tick
              class="flex! text-sm"
              checked={picked.has(address)}
              onchange={(on) => set([address], on)}>{task.task}</Tick
            >
          {/each}
        </div>
      {/if}
    {/each}
  </div>
</fieldset>
