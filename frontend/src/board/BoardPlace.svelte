<script lang="ts">
  import { address } from "../address.svelte";
  import { api, ask, type Board, type Run, type Workspace } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import { isGoing, live, stateTold } from "../dock/live.svelte";
  import { keys } from "../frame/keys.svelte";
  import Notice from "../frame/Notice.svelte";
  import { clockTime, counted, day } from "../values/text";
  import Steps from "../beginning/Steps.svelte";
  import { keyOf } from "./boardRows";
  import Ledger from "./Ledger.svelte";
  import Matrix from "./Matrix.svelte";
  import StartRun from "./StartRun.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Waiting from "../kit/Waiting.svelte";

  interface Props {
    workspace: Workspace;
    number: number | null;
    reload: () => Promise<void>;
  }
  let { workspace, number, reload }: Props = $props();

  const starting = $derived(address.query.has("start"));
  const start = (open: boolean) => address.mark("start", open ? "1" : null);
  const share = $derived(address.query.get("share"));
  const sharing = (what: "replay" | "report" | "export" | "bring" | null) =>
    address.mark("share", what);
  let dropped = $state.raw<File | null>(null);
  const base = $derived(Number(address.query.get("base")) || null);
  // Read again when another run begins, here or in a terminal.
  const following = $derived(live.run?.id);
  const allRuns = new Resource(() => {
    void following;
    return ask(api.GET("/api/runs"));
  });
  const runs = $derived(allRuns.value?.runs ?? null);
  const chosen = $derived(number ?? runs?.[0]?.id ?? null);
  const shown = new Resource(() => (chosen === null ? null : readBoard(chosen, base)));
  const act = new Action();
  const board = $derived(shown.value);
  const fault = $derived(act.fault || shown.fault || allRuns.fault);
  const run = $derived(board && live.run?.id === board.run.id ? live.run : board?.run);
  const judgedNow = $derived(`${run?.state} ${run?.done}`);

  async function readBoard(run: number, base: number | null): Promise<Board> {
    const params = { path: { run }, query: base === null ? {} : { base } };
    const read = await ask(api.GET("/api/runs/{run}/board", { params }));
    if (live.run?.id !== run && (isGoing(read.run) || !live.going)) live.watch(read.run);
    return read as Board;
  }

  // Cells change while a run goes on; the ledger is read again when it is over.
  $effect(() =>
    live.hear((now, cells) => {
      if (!board || now.id !== board.run.id) return;
      const changed = new Map(cells.map((c) => [keyOf(c), c]));
      shown.put({ ...board, cells: board.cells.map((c) => changed.get(keyOf(c)) ?? c) });
      if (!isGoing(now)) {
        void shown.read();
        void allRuns.read();
      }
    }),
  );

  function started(run: Run) {
    live.watch(run);
    void allRuns.read();
    address.go(`/board/${run.id}`);
  }

  function again(run: Run) {
    const params = { path: { run: run.id } };
    return act.run(async () => started(await ask(api.POST("/api/runs/{run}/again", { params }))));
  }

  function resume(run: Run) {
    return act.run(async () => {
      await live.resume(run);
      await shown.read();
    });
  }

  function drop(event: DragEvent) {
    const file = event.dataTransfer?.files[0];
    if (!file) return;
    event.preventDefault();
    dropped = file;
    sharing("bring");
  }

  keys.add(() => [{ key: "r", does: "starts a run", run: () => start(true) }]);

  function described(run: Run): string {
    const state = run.state === "done" ? `${run.passes} of ${run.judged} passed` : stateTold(run);
    return `Run ${run.id} · ${run.title} · ${day(run.created_at)} ${clockTime(run.created_at)} · ${state}`;
  }
</script>

<div
  class="w-max min-w-full pt-3 pb-6 px-4.5 [box-sizing:border-box]"
  role="region"
  aria-label="Board"
  ondragover={(e) => e.preventDefault()}
  ondrop={drop}
>
  <div class="sticky left-4.5 flex flex-wrap items-center gap-3.5 max-w-[calc(100vw_-_36px)] mb-3">
    {#if runs?.length}
      <Choice
        class="max-w-[min(520px,100%)] py-1 text-base"
        aria-label="Run shown"
        value={chosen}
        onchange={(e) => address.go(`/board/${e.currentTarget.value}`)}
      >
        {#if run && !runs.some((one) => one.id === run.id)}
          <option value={run.id}>{described(run)}</option>
        {/if}
        {#each runs as one (one.id)}
          <option value={one.id}>{described(one.id === run?.id ? run : one)}</option>
        {/each}
      </Choice>
    {/if}
    {#if run && (run.state === "interrupted" || run.state === "stopped")}
      <span data-testid="halted" class="overflow-hidden text-ellipsis text-doubt">
        {run.state === "interrupted" ? "Interrupted" : "Stopped"}: {run.total - run.done} of {run.total}
        trials are missing.{run.message ? ` ${run.message}` : ""}
      </span>
      <Button onclick={() => resume(run)} disabled={act.busy}>Resume</Button>
    {/if}
    {#if run?.fork_of}
      <a class="whitespace-nowrap underline" href={`/trial/${run.fork_of}`}>Trial {run.fork_of}</a>
    {/if}
    {#if run?.state === "done" && run.message}
      <span data-testid="run-message" class="max-w-[60ch] text-doubt">{run.message}</span>
    {/if}
    <span class="ml-auto flex gap-3.5">
      {#if run && run.state === "done" && run.passes < run.judged && run.origin !== "brought in" && run.fork_of === null}
        <Button onclick={() => again(run)} disabled={act.busy}>Run what failed again</Button>
      {/if}
      {#if run && board?.plan}
        <a class="self-center whitespace-nowrap underline" href={`/compare?view=arms&run=${run.id}`}
          >Arms of {board.plan}</a
        >
      {:else if run && board?.ledger.bases.length === 1}
        <a
          class="self-center whitespace-nowrap underline"
          href={`/compare?a=${board.ledger.bases[0]}&b=${run.id}`}
          >Compare with run {board.ledger.bases[0]}</a
        >
      {/if}
      {#if run && run.done > 0}
        <Button onclick={() => sharing("replay")}>Replay</Button>
        <Button onclick={() => sharing("report")}>Report</Button>
        <Button onclick={() => sharing("export")}>Export</Button>
      {/if}
      {#if runs}<Button onclick={() => sharing("bring")}>Bring in</Button>{/if}
      {#if !runs || runs.length}
        <Button kind="go" onclick={() => start(true)} data-testid="start">Start a run</Button>
      {/if}
    </span>
  </div>

  {#if workspace.problems.length}
    <section
      class="sticky left-4.5 max-w-[calc(100vw_-_36px)] mb-3 py-0.5 pl-3 border-l-3 border-l-broke"
      aria-label="Problems of the workspace"
    >
      <strong
        >{counted(workspace.problems.length, "problem")} in the workspace's files; what needs these files
        cannot run.</strong
      >
      <Button onclick={reload}>Look again</Button>
      <ul class="mono max-h-27.5 mt-1.5 overflow-auto">
        {#each workspace.problems as p (`${p.file}${p.line}${p.column}${p.message}`)}
          <li>{p.file}:{p.line}:{p.column}: {p.message}</li>
        {/each}
      </ul>
    </section>
  {/if}

  {#if fault}
    <Notice tone="broke" title="The board cannot be shown"><p>{fault}</p></Notice>
  {:else if runs && !runs.length}
    <Steps {workspace} onstart={() => start(true)} />
  {:else if board && run}
    {#key judgedNow.startsWith("running") ? "" : judgedNow}
      <Ledger {board} runs={runs ?? []} going={live.going && live.run?.id === board.run.id} />
    {/key}
    <Matrix {board} {run} />
  {:else}
    <Waiting>Reading the board…</Waiting>
  {/if}
</div>

{#if starting}
  <StartRun {workspace} shown={board} onstarted={started} onclose={() => start(false)} />
{/if}
<!-- Loaded when they are first asked for. -->
{#if share === "report" && chosen !== null}
  {#await import("../sharing/ReportDialog.svelte") then { default: ReportDialog }}
    <ReportDialog run={chosen} against={base} onclose={() => sharing(null)} />
  {/await}
{:else if share === "replay" && chosen !== null}
  {#await import("../replay/ReplayDialog.svelte") then { default: ReplayDialog }}
    <ReplayDialog
      run={chosen}
      agents={board?.agents.map((a) => a.agent) ?? []}
      onclose={() => sharing(null)}
    />
  {/await}
{:else if share === "export" && chosen !== null}
  {#await import("../sharing/ExportDialog.svelte") then { default: ExportDialog }}
    <ExportDialog run={chosen} onclose={() => sharing(null)} />
  {/await}
{:else if share === "bring"}
  {#await import("../sharing/BringIn.svelte") then { default: BringIn }}
    <BringIn
      {dropped}
      onclose={() => {
        dropped = null;
        sharing(null);
      }}
      onbrought={() => void allRuns.read()}
    />
  {/await}
{/if}
