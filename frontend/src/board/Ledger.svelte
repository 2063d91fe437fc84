<script lang="ts">
  /* What changed since each cell's last comparable run, equal causes together. */
  import { address } from "../address.svelte";
  import type { Board, LedgerEntry, LedgerGroup, Run } from "../api/client";
  import Sentence from "../values/Sentence.svelte";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Table from "../kit/Table.svelte";

  let { board, runs, going }: { board: Board; runs: Run[]; going: boolean } = $props();
  const FEW = 6;
  let all = $state(false);
  let opened = $state<string | null>(null);

  const words = {
    broke: "Broke",
    otherwise: "Fails differently",
    mended: "Mended",
    fails: "Fails always",
    wavers: "Wavers",
    known: "Known",
  } as const;
  const ledger = $derived(board.ledger);
  const base = $derived(address.query.get("base"));
  const groups = $derived(all ? ledger.groups : ledger.groups.slice(0, FEW));
  const earlier = $derived(runs.filter((r) => r.id < board.run.id));
  const title = $derived.by(() => {
    const [only, ...more] = ledger.bases;
    if (only === undefined)
      return going
        ? "What changed"
        : base
          ? `Run ${base} has none of these cells`
          : "No cell has a predecessor";
    return more.length ? "Each cell since its last comparable run" : `Since run ${only}`;
  });
  const failing = $derived(
    `${counted(ledger.failing_as_before, "cell fails", "cells fail")} as before`,
  );
  /** What can be said where nothing is listed: only of what could be compared. */
  const calm = $derived.by(() => {
    if (going) return "Filled in when the run is over.";
    const rest = ledger.failing_as_before ? `; ${failing}` : "";
    if (ledger.compared) return `Nothing changed in ${counted(ledger.compared, "cell")}${rest}.`;
    return ledger.no_predecessor ? "Every task passed always." : "Nothing has been judged yet.";
  });

  const key = (group: LedgerGroup) =>
    JSON.stringify([group.kind, group.message, group.differs, group.known]);

  function counts(entry: LedgerEntry): string {
    const now = `${entry.now[0]}/${entry.now[1]}`;
    return entry.before ? `${entry.before[0]}/${entry.before[1]} → ${now}` : now;
  }

  /** What all cells of a group have in common: their task, or their agent. */
  function common(group: LedgerGroup): string {
    const one = (of: (entry: LedgerEntry) => string) => new Set(group.entries.map(of)).size === 1;
    const first = group.entries[0];
    if (first && one((e) => `${e.suite}/${e.task}`)) return `all of ${first.task}`;
    return first && one((e) => e.agent) ? `all of ${first.agent}` : "";
  }

  function trials(group: LedgerGroup, entry: LedgerEntry): number[] {
    return (group.kind === "mended" ? (entry.was?.trials ?? []) : entry.cause.trials).slice(0, 3);
  }
</script>

{#snippet sign(kind: LedgerGroup["kind"])}
  <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true">
    {#if kind === "broke"}
      <path d="M1 2h9L6.6 5.5 10 9H1z" fill="currentColor" />
    {:else if kind === "fails"}
      <path d="M1.5 2h8L6.4 5.5 9.5 9h-8z" fill="none" stroke="currentColor" stroke-width="1.6" />
    {:else if kind === "otherwise"}
      <path d="M1 3h6M1 8h9M7 1l3 2-3 2" fill="none" stroke="currentColor" stroke-width="1.6" />
    {:else if kind === "mended"}
      <path d="M1 5.5 4.4 9 10 2" fill="none" stroke="currentColor" stroke-width="2" />
    {:else if kind === "known"}
      <path d="M2 1.5v8M2 2.5h7l-2 2 2 2H2" fill="none" stroke="currentColor" stroke-width="1.4" />
    {:else}
      <path
        d="M.5 5.5c1.7-4 3.3-4 5 0s3.3 4 5 0"
        fill="none"
        stroke="currentColor"
        stroke-width="1.8"
      />
    {/if}
  </svg>
{/snippet}

{#snippet links(group: LedgerGroup, entry: LedgerEntry)}
  {#each trials(group, entry) as trial, i (trial)}
    <a class="inline-block min-w-6 -my-0.5 leading-6 text-center" href={`/trial/${trial}`}
      >{i === 0 ? "trial" : i + 1}</a
    >
  {/each}
{/snippet}

<section
  class="sticky left-4.5 mb-4 max-w-[calc(100vw-36px)]"
  aria-label="What changed"
  data-testid="ledger"
>
  <div class="flex items-baseline gap-4 mb-1 text-sm">
    <h2 class="my-0 text-base">{title}</h2>
    {#if earlier.length}
      <label class="soft">
        compared with
        <Choice
          aria-label="Compared with"
          value={base ?? ""}
          onchange={(e) => address.mark("base", e.currentTarget.value || null)}
        >
          <option value="">each cell’s last comparable run</option>
          {#each earlier as one (one.id)}<option value={String(one.id)}>run {one.id}</option>{/each}
        </Choice>
      </label>
    {/if}
    {#if ledger.compared && ledger.no_predecessor}
      <span class="soft">{counted(ledger.no_predecessor, "cell")} without a predecessor</span>
    {/if}
  </div>
  {#if groups.length}
    <Table fixed>
      <tbody>
        {#each groups as group (key(group))}
          {@const first = group.entries[0]}
          {@const several = group.entries.length > 1}
          <tr>
            <th
              scope="row"
              class={[
                "w-32 py-0.5 pr-2.5 pl-0 truncate font-semibold text-left align-baseline",
                group.kind,
              ]}>{@render sign(group.kind)} {words[group.kind]}</th
            >
            <td class="py-0.5 pr-2.5 pl-0 truncate align-baseline w-[27%]">
              {#if several}
                <Button
                  kind="link"
                  aria-expanded={opened === key(group)}
                  onclick={() => (opened = opened === key(group) ? null : key(group))}
                  >{counted(group.entries.length, "cell")}</Button
                >
                <span class="soft ml-2">{common(group)}</span>
              {:else if first}
                <span title={`${first.suite}/${first.task}`}>{first.task}</span>
                <span class="soft ml-2" title={first.agent}>{first.agent}</span>
              {/if}
            </td>
            <td class="py-0.5 pr-2.5 pl-0 truncate align-baseline w-23 text-right"
              >{!several && first ? counts(first) : ""}</td
            >
            <td
              class="py-0.5 pr-2.5 pl-0 truncate align-baseline whitespace-normal wrap-anywhere"
              title={group.message ?? group.failed_check}
            >
              <span class="line-clamp-2"
                ><Sentence words={group.message ?? group.failed_check ?? ""} /></span
              >
              {#if group.kind === "known"}
                <span class="block soft">known: {group.known}</span>
              {:else if group.known}
                <span class="block text-doubt"
                  >passes always now: take it out of the suite’s <code>known</code></span
                >
              {/if}
              {#if ledger.compared && !several && first && !first.base}
                <span class="soft">no predecessor</span>
              {/if}
              {#if group.differs.length}
                <span class="block text-doubt">differs too: {group.differs.join(", ")}</span>
              {/if}
            </td>
            <td class="trials py-0.5 pr-2.5 pl-0 truncate align-baseline w-23 pr-0 text-right"
              >{#if first}{@render links(group, first)}{/if}</td
            >
          </tr>
          {#if several && opened === key(group)}
            {#each group.entries as entry (`${entry.suite}${entry.task}${entry.agent}`)}
              <tr>
                <th class="w-32 py-0.5 pr-2.5 pl-0 truncate font-semibold text-left align-baseline"
                ></th>
                <td class="py-0.5 pr-2.5 pl-0 truncate text-sm align-baseline w-[27%]">
                  <span title={`${entry.suite}/${entry.task}`}>{entry.task}</span>
                  <span class="soft ml-2" title={entry.agent}>{entry.agent}</span>
                </td>
                <td class="py-0.5 pr-2.5 pl-0 truncate text-sm align-baseline w-23 text-right"
                  >{counts(entry)}</td
                >
                <td class="soft py-0.5 pr-2.5 pl-0 truncate text-sm align-baseline"
                  >{entry.base ? `since run ${entry.base}` : "no predecessor"}</td
                >
                <td
                  class="trials py-0.5 pr-2.5 pl-0 truncate text-sm align-baseline w-23 pr-0 text-right"
                  >{@render links(group, entry)}</td
                >
              </tr>
            {/each}
          {/if}
        {/each}
      </tbody>
    </Table>
    {#if ledger.groups.length > FEW}
      <Button kind="link" onclick={() => (all = !all)} aria-expanded={all}>
        {all ? "Fewer" : `${ledger.groups.length - FEW} more`}
      </Button>
    {/if}
    {#if ledger.failing_as_before}
      <p class="soft">{failing}.</p>
    {/if}
  {:else}
    <p class="soft">{calm}</p>
  {/if}
</section>

<style>
  th svg {
    display: inline;
    margin-right: 4px;
  }
  .broke,
  .fails,
  .otherwise {
    color: var(--broke);
  }
  .mended {
    color: var(--holds);
  }
  .known {
    color: var(--soft);
  }
  .wavers {
    color: var(--doubt);
  }

  .trials a {
    text-decoration: underline;
    margin-left: 6px;
  }
</style>
