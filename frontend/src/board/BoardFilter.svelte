<script lang="ts">
  /* What is shown of the board, kept in its address. */
  import { address } from "../address.svelte";
  import type { Board } from "../api/client";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";
  import { counted } from "../values/text";
  import { FAMILIES } from "./boardRows";

  interface Props {
    board: Board;
    shown: number;
    total: number;
    dense: boolean;
    hidden: string[];
  }
  let { board, shown, total, dense, hidden }: Props = $props();
  const of = (key: string) => address.query.get(key) ?? "";
  const set = (key: string) => (e: { currentTarget: { value: string } }) =>
    address.mark(key, e.currentTarget.value || null);
  const tags = $derived(board.suites.some((s) => s.tasks.some((t) => t.tags.length)));
</script>

<div class="filter" role="group" aria-label="What the board shows">
  <Field
    class="w-44"
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
    <details>
      <summary
        >{counted(board.agents.length - hidden.length, "agent")}{hidden.length
          ? ` of ${board.agents.length}`
          : ""}</summary
      >
      <div class="agents">
        {#each board.agents as agent (agent.agent)}
          <Tick
            class="flex!"
            checked={!hidden.includes(agent.agent)}
            onchange={(on) => {
              const next = on ? hidden.filter((a) => a !== agent.agent) : [...hidden, agent.agent];
              address.mark("hide", next.join(",") || null);
            }}>{agent.agent}</Tick
          >
        {/each}
      </div>
    </details>
  {/if}
  {#if shown < total}<span class="soft" aria-live="polite">{shown} of {counted(total, "task")}</span
    >{/if}
</div>

<style>
  .filter {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 12px;
    margin: 10px 0 6px;
    position: sticky;
    left: 18px;
    max-width: calc(100vw - 36px);
    font-size: 12.5px;
  }
  details {
    position: relative;
  }
  summary {
    cursor: pointer;
  }
  .agents {
    position: absolute;
    z-index: 5;
    min-width: 220px;
    max-height: 300px;
    overflow: auto;
    padding: 8px 12px;
    background: var(--raised);
    border: 1px solid var(--line);
  }
</style>
