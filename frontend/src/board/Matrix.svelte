<script lang="ts">
  import { address } from "../address.svelte";
  import type { Board, Cell, Run } from "../api/client";
  import { counted, percent } from "../values/text";
  import CellTrials from "./CellTrials.svelte";
  import Comb from "./Comb.svelte";
  import Pips from "./Pips.svelte";

  let { board, run }: { board: Board; run: Run } = $props();
  const families = ["choice", "arguments", "order", "failures", "latency", "outcome"];
  const going = $derived(run.state === "running");
  const cells = $derived(new Map(board.cells.map((c) => [`${c.suite}/${c.task}/${c.agent}`, c])));
  const open = $derived(address.query.get("cell"));

  function toggle(key: string) {
    address.mark("cell", open === key ? null : key);
  }

  function summary(cell: Cell): string {
    const interval = cell.interval
      ? `; 95 % interval ${percent(cell.interval[0])} to ${percent(cell.interval[1])} (Wilson)`
      : "";
    const errors = cell.errors ? `; ${cell.errors} could not run` : "";
    const aside = cell.unjudged
      ? `${counted(cell.unjudged, "trial")} not judged: nothing is demanded`
      : "";
    if (!cell.n && aside) return aside + errors;
    return `${cell.passes} of ${counted(cell.n, "trial")} passed${interval}${errors}${aside ? `; ${aside}` : ""}`;
  }
</script>

<table aria-label="Tasks against agents">
  <thead>
    <tr>
      <th class="corner" scope="col">
        <span class="legend soft" title={`A tooth each: ${families.join(", ")}`}>
          teeth: {families.join(" · ")}
        </span>
      </th>
      {#each board.agents as agent (agent.agent)}
        <th scope="col" title={agent.title}>
          <span class="agent">{agent.agent}</span>
          <span class="soft under"
            >{agent.link} · {agent.model ?? "model not seen"}{agent.simulated
              ? " (simulated)"
              : ""}</span
          >
        </th>
      {/each}
    </tr>
  </thead>
  <tbody>
    {#each board.suites as suite (suite.suite)}
      {#if board.suites.length > 1}
        <tr class="suite"
          ><th scope="rowgroup" colspan={board.agents.length + 1}>{suite.suite}</th></tr
        >
      {/if}
      {#each suite.tasks as task (task.task)}
        <tr>
          <th scope="row" class="task" title={task.title}>
            <span class="name">{task.task}</span>
            <span class="soft under">{task.title ?? ""}</span>
          </th>
          {#each board.agents as agent (agent.agent)}
            {@const key = `${suite.suite}/${task.task}/${agent.agent}`}
            {@const cell = cells.get(key)}
            <td class={{ open: open === key }}>
              {#if cell}
                <button
                  onclick={() => toggle(key)}
                  title={summary(cell)}
                  aria-expanded={open === key}
                  aria-label={`${task.task}, ${agent.agent}: ${summary(cell)}`}
                  data-cell={key}
                >
                  <span class="rate">
                    {#if cell.n}
                      <strong>{cell.passes}</strong><span class="soft">/{cell.n}</span>
                    {:else}
                      <span class="soft">–</span>
                    {/if}
                  </span>
                  <Pips {cell} {going} />
                  <span class="comb">
                    {#if cell.n}<Comb comb={cell.comb} />{:else if cell.unjudged}<span class="soft"
                        >not judged</span
                      >{/if}
                  </span>
                </button>
              {/if}
            </td>
          {/each}
        </tr>
        {#if open?.startsWith(`${suite.suite}/${task.task}/`)}
          {@const cell = cells.get(open)}
          {#if cell}
            <tr class="trials">
              <td colspan={board.agents.length + 1}><CellTrials run={run.id} {cell} /></td>
            </tr>
          {/if}
        {/if}
      {/each}
    {/each}
  </tbody>
</table>

<style>
  table {
    border-collapse: separate;
    border-spacing: 0;
    width: 100%;
  }
  thead th {
    text-align: left;
    font-weight: 600;
    padding: 4px 12px 5px;
    border-bottom: 1px solid var(--soft);
    vertical-align: bottom;
    position: sticky;
    top: 0;
    background: var(--ground);
    z-index: 2;
  }
  thead .corner {
    z-index: 3;
  }
  .corner,
  .task {
    position: sticky;
    left: 0;
    background: var(--ground);
    z-index: 1;
    width: 300px;
    max-width: 300px;
    padding-left: 0;
  }
  .legend,
  .under {
    display: block;
    font-size: 12px;
    font-weight: 400;
  }
  .agent,
  .under,
  .name {
    display: block;
    max-width: 290px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  thead .agent,
  thead .under {
    max-width: 230px;
  }
  tbody th {
    text-align: left;
    font-weight: 500;
    padding: 5px 12px 5px 0;
    border-bottom: 1px solid var(--faint);
  }
  .suite th {
    font-weight: 600;
    padding-top: 14px;
  }
  td {
    border-bottom: 1px solid var(--faint);
    padding: 0;
  }
  td button {
    display: grid;
    grid-template-columns: 44px 1fr auto;
    align-items: center;
    gap: 8px;
    width: 100%;
    min-width: 196px;
    min-height: 46px;
    padding: 4px 12px;
    background: none;
    border: 0;
    color: inherit;
    cursor: pointer;
    text-align: left;
  }
  td button:hover {
    background: var(--sheet);
  }
  .open {
    background: var(--sheet);
    box-shadow: inset 0 -2px var(--iron);
  }
  .rate {
    text-align: right;
    font-size: 15px;
  }
  .comb {
    grid-column: 3;
  }
  .trials td {
    background: var(--sheet);
  }
</style>
