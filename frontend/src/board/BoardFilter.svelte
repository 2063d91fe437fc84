<script lang="ts">
  /* What is shown of the board, kept in its address. */
  import { address } from "../address.svelte";
  import type { Board } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";
  import { counted } from "../values/text";
  import { agentsShown, FAMILIES } from "./boardRows";

  interface Props {
    board: Board;
    shown: number;
    total: number;
    dense: boolean;
    hidden: string[];
    /** The agents that are put first, in their order. */
    first: string[];
  }
  let { board, shown, total, dense, hidden, first }: Props = $props();
  const of = (key: string) => address.query.get(key) ?? "";
  const set = (key: string) => (e: { currentTarget: { value: string } }) =>
    address.mark(key, e.currentTarget.value || null);
  const ordered = $derived(agentsShown(board.agents, [], first));

  function move(at: number, by: number) {
    const names = ordered.map((agent) => agent.agent);
    names.splice(at + by, 0, ...names.splice(at, 1));
    address.mark("agents", names.join(","));
  }
  const tags = $derived(board.suites.some((s) => s.tasks.some((t) => t.tags.length)));
</script>

<div
  class="sticky left-4.5 z-4 flex flex-wrap items-center gap-x-3 gap-y-1.5 max-w-[calc(100vw_-_36px)] mt-2.5 mb-1.5 text-sm"
  role="group"
  aria-label="What the board shows"
>
  <Field
    class="w-44"
    type="search"
    placeholder="Find a task"
    aria-label="Find a task"
    value={of("find")}
    oninput={set("find")}
  />
  <Choice aria-label="Tasks shown" value={of("only")} onchange={set("only")}>
    <option value="">every task</option>
    <option value="failed">with a failure</option>
    <option value="wavers">that waver</option>
    <option value="changed">that changed</option>
    <option value="errors">that could not run</option>
    {#each FAMILIES as family (family)}<option value={family}>that lost in {family}</option>{/each}
  </Choice>
  <Choice aria-label="Order of tasks" value={of("order")} onchange={set("order")}>
    <option value="">in the order of the files</option>
    <option value="worst">what passes least first</option>
  </Choice>
  {#if tags}
    <Choice aria-label="Grouped by" value={of("group")} onchange={set("group")}>
      <option value="">by suite</option>
      <option value="tag">by tag</option>
    </Choice>
  {/if}
  <Tick checked={dense} onchange={(on) => address.mark("dense", on ? "1" : "0")}>dense</Tick>
  {#if board.agents.length > 1}
    <details class="relative">
      <summary class="cursor-pointer"
        >{counted(board.agents.length - hidden.length, "agent")}{hidden.length
          ? ` of ${board.agents.length}`
          : ""}</summary
      >
      <div
        class="absolute z-5 min-w-55 max-h-75 py-2 px-3 border border-line bg-raised overflow-auto"
      >
        {#each ordered as agent, i (agent.agent)}
          <div class="flex items-center gap-2">
            <Tick
              checked={!hidden.includes(agent.agent)}
              onchange={(on) => {
                const next = on
                  ? hidden.filter((a) => a !== agent.agent)
                  : [...hidden, agent.agent];
                address.mark("hide", next.join(",") || null);
              }}>{agent.agent}</Tick
            >
            <Button
              kind="link"
              class="ml-auto"
              disabled={i === 0}
              aria-label={`${agent.agent} further to the left`}
              onclick={() => move(i, -1)}>←</Button
            >
            <Button
              kind="link"
              disabled={i === ordered.length - 1}
              aria-label={`${agent.agent} further to the right`}
              onclick={() => move(i, 1)}>→</Button
            >
          </div>
        {/each}
      </div>
    </details>
  {/if}
  {#if shown < total}<span class="soft" aria-live="polite">{shown} of {counted(total, "task")}</span
    >{/if}
</div>
