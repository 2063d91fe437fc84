<script lang="ts">
  import type { Board, LedgerEntry } from "../api/client";

  let { board, going }: { board: Board; going: boolean } = $props();
  const FEW = 5;
  let all = $state(false);

  const words = {
    broke: "Broke",
    mended: "Mended",
    wavers: "Wavers",
  } as const;
  const shown = $derived(all ? board.ledger : board.ledger.slice(0, FEW));

  function counts(entry: LedgerEntry): string {
    const now = `${entry.now[0]}/${entry.now[1]}`;
    return entry.before ? `${entry.before[0]}/${entry.before[1]} → ${now}` : now;
  }
</script>

<section class="ledger" aria-label="What changed">
  <h2>
    {#if board.compared_with}
      Since <a href={`/board/${board.compared_with}`}>run {board.compared_with}</a>
    {:else}
      {going ? "What changed" : "First run on these scripts"}
    {/if}
  </h2>
  {#if board.ledger.length}
    <table>
      <tbody>
        {#each shown as entry (`${entry.kind}${entry.suite}${entry.task}${entry.agent}`)}
          <tr>
            <th scope="row" class={entry.kind}>
              <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true">
                {#if entry.kind === "broke"}
                  <path d="M1 2h9L6.6 5.5 10 9H1z" fill="currentColor" />
                {:else if entry.kind === "mended"}
                  <path d="M1 5.5 4.4 9 10 2" fill="none" stroke="currentColor" stroke-width="2" />
                {:else}
                  <path
                    d="M.5 5.5c1.7-4 3.3-4 5 0s3.3 4 5 0"
                    fill="none"
                    stroke="currentColor"
                    stroke-width="1.8"
                  />
                {/if}
              </svg>
              {words[entry.kind]}
            </th>
            <td class="task" title={`${entry.suite}/${entry.task}`}>{entry.task}</td>
            <td class="agent soft" title={entry.agent}>{entry.agent}</td>
            <td class="counts">{counts(entry)}</td>
            <td class="tipped" title={entry.message}>
              {#if entry.tipped}<span class="mono">{entry.tipped}</span>
                <span class="soft">{entry.message}</span>{/if}
            </td>
            <td class="trials">
              {#each entry.trials.slice(0, 3) as trial, i (trial)}
                <a href={`/trial/${trial}`}>{i === 0 ? "trial" : i + 1}</a>
              {/each}
            </td>
          </tr>
        {/each}
      </tbody>
    </table>
    {#if board.ledger.length > FEW}
      <button class="more" onclick={() => (all = !all)} aria-expanded={all}>
        {all ? "Fewer" : `${board.ledger.length - FEW} more`}
      </button>
    {/if}
  {:else}
    <p class="soft">
      {going
        ? "Filled in when the run is over."
        : board.compared_with
          ? "Nothing changed, and nothing wavers."
          : "Nothing wavers: every task passed always or never."}
    </p>
  {/if}
</section>

<style>
  .ledger {
    margin-bottom: 16px;
  }
  h2 {
    font-size: 14px;
    font-weight: 600;
    margin: 0 0 4px;
  }
  table {
    width: 100%;
    border-collapse: collapse;
    table-layout: fixed;
  }
  th {
    width: 88px;
    text-align: left;
    font-weight: 600;
  }
  th svg {
    display: inline;
    margin-right: 4px;
  }
  .broke {
    color: var(--broke);
  }
  .mended {
    color: var(--holds);
  }
  .wavers {
    color: var(--doubt);
  }
  td,
  th {
    padding: 2px 10px 2px 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .task {
    width: 200px;
  }
  .agent {
    width: 170px;
  }
  .counts {
    width: 92px;
    text-align: right;
  }
  .trials {
    width: 92px;
    padding-right: 0;
    text-align: right;
  }
  .trials a {
    text-decoration: underline;
    margin-left: 6px;
  }
  .more {
    padding: 2px 0;
  }
  p {
    margin: 0;
  }
</style>
