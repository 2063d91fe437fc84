<script lang="ts">
  /* Tasks against agents. Of many tasks only those in sight are drawn. */
  import { address } from "../address.svelte";
  import type { Board, Run } from "../api/client";
  import BoardFilter from "./BoardFilter.svelte";
  import { agentsShown, FAMILIES, groupsOf, keyOf, type Row, knownCells } from "./boardRows";
  import CellTrials from "./CellTrials.svelte";
  import { byCells } from "../kit/arrows";
  import Button from "../kit/Button.svelte";
  import MatrixCell from "./MatrixCell.svelte";

  let { board, run }: { board: Board; run: Run } = $props();
  const FEW_AGENTS = 4;
  const FEW_ROWS = 80;
  /** Pixels of an agent's column, where the columns do not follow what stands in them. */
  const COLUMN = 104;
  const BEYOND = 8;

  const known = $derived(knownCells(board));
  /** How an agent is driven, and what it thinks with; of one that ran elsewhere, that it did. */
  const kindOf = (agent: Board["agents"][number]) =>
    run.origin === "brought in"
      ? "brought in"
      : `${agent.link} · ${agent.model ?? "model not seen"}${agent.simulated ? " (simulated)" : ""}`;
  const going = $derived(run.state === "running");
  const open = $derived(address.query.get("cell"));
  // Each part of the address by itself: what a press changes in it touches nothing else.
  const hide = $derived(address.query.get("hide") ?? "");
  const find = $derived(address.query.get("find") ?? "");
  const only = $derived(address.query.get("only") ?? "");
  const order = $derived(address.query.get("order") === "worst" ? "worst" : "");
  const group = $derived(address.query.get("group") === "tag" ? "tag" : "");
  const hidden = $derived(hide.split(",").filter(Boolean));
  const named = $derived(address.query.get("agents") ?? "");
  const ahead = $derived(named.split(",").filter(Boolean));
  const agents = $derived(agentsShown(board.agents, hidden, ahead));
  const chosenDense = $derived(address.query.get("dense"));
  const dense = $derived(chosenDense ? chosenDense === "1" : board.agents.length > FEW_AGENTS);
  const height = $derived(dense ? 25 : 47);
  const groups = $derived(
    groupsOf(
      board,
      agents.map((a) => a.agent),
      { find, only, order, group },
    ),
  );
  type Line = { heading: string } | { row: Row };
  const lines = $derived<Line[]>(
    groups.flatMap((g) => [
      ...(g.heading === null ? [] : [{ heading: g.heading }]),
      ...g.rows.map((row) => ({ row })),
    ]),
  );
  const shown = $derived(new Set(groups.flatMap((g) => g.rows.map((r) => `${r.suite}/${r.task}`))));
  const total = $derived(board.suites.reduce((n, s) => n + s.tasks.length, 0));
  const totals = $derived(
    new Map(
      agents.map((a) => {
        const own = board.cells.filter((c) => c.agent === a.agent);
        const sum = (of: (c: (typeof own)[number]) => number) => own.reduce((n, c) => n + of(c), 0);
        return [a.agent, [sum((c) => c.passes), sum((c) => c.n)] as const];
      }),
    ),
  );

  // Only what is in sight is drawn, and a little beyond.
  let body = $state<HTMLElement>();
  let first = $state(0);
  let last = $state(0);
  const many = $derived(lines.length > FEW_ROWS);
  const from = $derived(many ? Math.min(first, lines.length) : 0);
  const to = $derived(many ? Math.min(last, lines.length) : lines.length);

  function look() {
    if (!body) return;
    const above = -body.getBoundingClientRect().top;
    first = Math.max(0, Math.floor(above / height) - BEYOND);
    last = Math.ceil((above + innerHeight) / height) + BEYOND;
  }

  $effect(() => {
    void [lines.length, height];
    const scroller = body?.closest("main");
    look();
    scroller?.addEventListener("scroll", look, { passive: true });
    return () => scroller?.removeEventListener("scroll", look);
  });

  /** The column that another is compared with next. */
  let picked = $state<string | null>(null);

  function pick(agent: string) {
    const [a, b] = [picked, agent].map((one) => encodeURIComponent(`${run.id}:${one}`));
    if (picked && picked !== agent) address.go(`/compare?a=${a}&b=${b}`);
    else picked = picked ? null : agent;
  }

  function toggle(key: string) {
    address.mark("cell", open === key ? null : key);
  }
</script>

<svelte:window onresize={look} />

<BoardFilter {board} {hidden} first={ahead} {dense} shown={shown.size} {total} />
{#if picked}
  <p class="text-sm text-soft" role="status">
    A is <b>{picked}</b>. Press the passes of another column to compare it with that.
  </p>
{/if}
<table
  class={{ dense, many }}
  style:min-width={many ? `${210 + agents.length * COLUMN}px` : undefined}
  use:byCells={"[data-cell]"}
  aria-label="Tasks against agents"
  aria-rowcount={lines.length + 1}
>
  <thead>
    <tr>
      <th class="corner" scope="col">
        <span class="legend soft" title={`A tooth each: ${FAMILIES.join(", ")}`}>
          teeth: {FAMILIES.join(" · ")}
        </span>
      </th>
      {#each agents as agent (agent.agent)}
        {@const [passes, judged] = totals.get(agent.agent) ?? [0, 0]}
        {@const kind = kindOf(agent)}
        <th scope="col" title={`${agent.title ?? agent.agent}: ${kind}`}>
          <span class="agent">{agent.agent}</span>
          {#if !dense}<span class="soft under">{kind}</span>{/if}
          <Button
            kind="text"
            class={[
              "block text-sm font-normal",
              picked === agent.agent ? "text-iron" : "text-soft",
            ]}
            aria-pressed={picked === agent.agent}
            title={picked && picked !== agent.agent
              ? `Compare ${picked} with ${agent.agent}`
              : "Compare this column with another"}
            data-total={agent.agent}
            onclick={() => pick(agent.agent)}
            >{picked === agent.agent ? "A " : picked ? "B? " : ""}{passes}/{judged}</Button
          >
        </th>
      {/each}
    </tr>
  </thead>
  <tbody bind:this={body}>
    {#if from > 0}<tr style:height={`${from * height}px`}></tr>{/if}
    {#each lines.slice(from, to) as line, i (`${from + i}`)}
      {#if "heading" in line}
        <tr class="suite" style:height={`${height}px`}
          ><th scope="rowgroup" colspan={agents.length + 1}>{line.heading}</th></tr
        >
      {:else}
        {@const { row } = line}
        <tr style:height={`${height}px`}>
          <th scope="row" class="task" title={row.title}>
            <span class="name">{row.task}</span>
            {#if !dense}<span class="soft under">{row.title ?? ""}</span>{/if}
          </th>
          {#each row.cells as cell, place (agents[place]?.agent)}
            <td class={{ open: cell && open === keyOf(cell) }}>
              {#if cell}
                <MatrixCell
                  {cell}
                  {dense}
                  {going}
                  known={known.get(keyOf(cell))}
                  open={open === keyOf(cell)}
                  ontoggle={() => toggle(keyOf(cell))}
                />
              {/if}
            </td>
          {/each}
        </tr>
        {@const opened = row.cells.find((c) => c && keyOf(c) === open)}
        {#if opened}
          <tr class="trials">
            <td colspan={agents.length + 1}><CellTrials run={run.id} cell={opened} /></td>
          </tr>
        {/if}
      {/if}
    {:else}
      <tr><td class="soft none" colspan={agents.length + 1}>No task is like that.</td></tr>
    {/each}
    {#if to < lines.length}<tr style:height={`${(lines.length - to) * height}px`}></tr>{/if}
  </tbody>
</table>

<style>
  table {
    border-collapse: separate;
    border-spacing: 0;
    width: 100%;
  }
  /* Columns that follow their content are measured anew with each row that comes into sight. */
  .many {
    table-layout: fixed;
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
  .dense thead th {
    padding: 2px 8px 3px;
    font-size: 12.5px;
    line-height: 1.2;
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
    padding-left: 0 !important;
  }
  .dense .corner,
  .dense .task {
    width: 210px;
    max-width: 210px;
  }
  .legend,
  .under {
    display: block;
    font-size: 12.5px;
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
  .dense .agent {
    max-width: 104px;
    white-space: normal;
    overflow-wrap: anywhere;
  }
  tbody th {
    text-align: left;
    font-weight: 500;
    padding: 0 12px 0 0;
    border-bottom: 1px solid var(--faint);
  }
  .suite th {
    font-weight: 600;
    vertical-align: bottom;
  }
  td {
    border-bottom: 1px solid var(--faint);
    padding: 0;
  }
  .open {
    background: var(--sheet);
    box-shadow: inset 0 -2px var(--iron);
  }
  .trials td {
    background: var(--sheet);
  }
  .none {
    padding: 16px 0;
  }
</style>
