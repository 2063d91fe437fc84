<script lang="ts">
  import { address } from "../address.svelte";
  import { api, ask, type Run } from "../api/client";
  import { messageOf, Resource } from "../api/resource.svelte";
  import {
    isReplyTool,
    modelRequestsOf,
    type Check,
    type NewEvents,
    type TrialView,
  } from "../api/trace";
  import { watch } from "../api/watch";
  import Forks from "../fork/Forks.svelte";
  import FromHere from "../fork/FromHere.svelte";
  import Origin from "../fork/Origin.svelte";
  import { canFork, pointOf } from "../fork/point";
  import { live } from "../dock/live.svelte";
  import { keys } from "../frame/keys.svelte";
  import Notice from "../frame/Notice.svelte";
  import Sentence from "../values/Sentence.svelte";
  import { counted, duration, verdictColour, grouped } from "../values/text";
  import CallPanel from "./CallPanel.svelte";
  import Checks from "./Checks.svelte";
  import Conversation from "./Conversation.svelte";
  import TrialReplay from "../replay/TrialReplay.svelte";
  import Judged from "./Judged.svelte";
  import ModelPanel from "./ModelPanel.svelte";
  import Setup from "./Setup.svelte";
  import Keep from "./Keep.svelte";
  import Mark from "./Mark.svelte";
  import Mend from "./Mend.svelte";
  import Remarks from "./Remarks.svelte";
  import Tracks from "./Tracks.svelte";
  import Button from "../kit/Button.svelte";
  import Waiting from "../kit/Waiting.svelte";

  let { number }: { number: number } = $props();

  let lit = $state.raw<Check | null>(null);
  let said = $state("");

  let mending = $state(false);
  let shrinking = $state(false);
  let keeping = $state(address.query.has("keep"));

  const earlier = $derived(Number(address.query.get("result")) || null);
  const reading = new Resource<TrialView>(() => read(number, earlier));
  const view = $derived(reading.value);
  const calls = $derived(
    (view?.trace.events ?? []).flatMap((e) =>
      e.kind === "call" && e.id && !(view && isReplyTool(view.trace, e.tool)) ? [e.id] : [],
    ),
  );
  const asked = $derived(address.query.get("call"));
  // A failing trial opens where it first left its script.
  const first = $derived.by(() => {
    const wrong = view?.result?.went_wrong;
    if (!wrong) return null;
    if (wrong.call && calls.includes(wrong.call)) return wrong.call;
    return wrong.expected ? `=${wrong.expected}` : null;
  });
  const chosen = $derived(asked === "none" ? null : (asked ?? first));
  const request = $derived(
    view ? (modelRequestsOf(view.trace).find((e) => e.id === chosen) ?? null) : null,
  );
  /** From where to go on, while that is asked; and the run of forks that was started last. */
  let forkingAt = $state<string | null>(null);
  let forks = $state.raw<Run | null>(null);
  const point = $derived(view ? pointOf(view, chosen) : null);
  const forkingFrom = $derived(view ? pointOf(view, forkingAt) : null);
  let replaying = $state(false);
  let setupOpen = $state(false);
  const scale = $derived(address.query.get("by") === "steps" ? "steps" : "time");
  const result = $derived(view?.result ?? null);
  const latency = $derived(result?.latency);
  const failed = $derived(result?.checks.filter((c) => c.passed === false).length ?? 0);
  const decided = $derived(result?.checks.filter((c) => c.passed !== null).length ?? 0);
  async function read(trial: number, result: number | null): Promise<TrialView> {
    const params = { path: { trial }, query: result ? { result } : {} };
    const got = await ask(api.GET("/api/trials/{trial}", { params }));
    if (got.run.state === "running" && live.run?.id !== got.run.id) live.watch(got.run);
    return got as unknown as TrialView;
  }

  const runs = $derived(view?.trial.state === "running" && view.run.state === "running");
  // While the trial runs, what is new in it comes by itself; once it is over all is read again.
  $effect(() => {
    if (!runs) return;
    return watch<NewEvents>("trials", number, { change: add, over: () => void reading.read() });
  });

  function add(now: NewEvents) {
    if (!view) return;
    const events = [...view.trace.events.slice(0, now.place), ...now.events];
    reading.put({
      ...view,
      trace: { ...view.trace, events },
      long: [...view.long.filter((place) => place < now.place), ...now.long],
      injected: { ...view.injected, ...now.injected },
    });
  }

  function choose(id: string) {
    lit = null;
    address.mark("call", asked === id ? "none" : id);
  }

  function showPoint(at: string) {
    if (at.startsWith("t")) forkingAt = at;
    else address.mark("call", at);
  }

  function light(check: Check) {
    lit = lit?.id === check.id ? null : check;
    const first = check.calls.at(-1);
    if (lit && first) address.mark("call", first);
  }

  function step(by: number) {
    const at =
      chosen && calls.includes(chosen) ? calls.indexOf(chosen) : by > 0 ? -1 : calls.length;
    const next = calls[at + by];
    if (next) address.mark("call", next);
  }

  async function copyDigest() {
    try {
      const { text } = await ask(
        api.GET("/api/trials/{trial}/digest", { params: { path: { trial: number } } }),
      );
      await navigator.clipboard.writeText(text);
      said = "Digest copied";
    } catch (error) {
      said = messageOf(error);
    }
    setTimeout(() => (said = ""), 2500);
  }

  /** Each turn's time, or of many the slowest. */
  function turnsTold(turns: (number | null)[]): string {
    if (turns.length <= 4) return `turns ${turns.map(duration).join(", ") || "none"}`;
    const slowest = Math.max(...turns.map((t) => t ?? 0));
    return `${turns.length} turns, the slowest ${duration(slowest)}`;
  }

  function open(id: number | null | undefined) {
    if (id) address.go(`/trial/${id}${scale === "steps" ? "?by=steps" : ""}`);
  }

  keys.add(() => [
    { key: "p", does: "previous trial", run: () => open(view?.near.previous) },
    { key: "n", does: "next trial", run: () => open(view?.near.next) },
    { key: "f", does: "next failure", run: () => open(view?.near.next_failure) },
    { key: "d", does: "copies the digest", run: () => void copyDigest() },
    { key: "k", does: "keeps it as a task", run: () => (keeping = result !== null && !keeping) },
    { key: "m", does: "asks what would mend it", run: () => (mending = failed > 0) },
    { key: "h", does: "goes on from here", run: () => (forkingAt = point?.at ?? null) },
    { key: "s", does: "shows it in steps or in time", run: turnScale },
    {
      key: "x",
      does: "shrinks it",
      run: () => (shrinking = failed > 0 && view !== null && canFork(view)),
    },
    { key: "r", does: "plays it back", run: () => (replaying = result !== null && !replaying) },
    { key: "u", does: "shows the set-up", run: () => (setupOpen = !setupOpen) },
    { key: "+", does: "zooms in", run: () => void drawing?.zoomIn() },
    { key: "-", does: "zooms out", run: () => void drawing?.zoomOut() },
    { key: "0", does: "shows all of the trial at once", run: () => drawing?.fit() },
    { key: "ArrowLeft", does: "previous call", run: () => step(-1) },
    { key: "ArrowRight", does: "next call", run: () => step(1) },
  ]);

  let drawing = $state<Tracks | null>(null);
  const turnScale = () => address.mark("by", scale === "steps" ? null : "steps");
</script>

{#if reading.fault && !view}
  <Notice tone="broke" title="This trial cannot be shown">
    <p>{reading.fault}</p>
    <a href="/board">To the board</a>
  </Notice>
{:else if !view}
  <Waiting>Reading the trial…</Waiting>
{:else}
  {@const trial = view.trial}
  <article
    class="grid grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_auto_auto_minmax(0,1fr)] h-full min-h-140 max-md:block max-md:h-auto pt-2.5 px-4.5"
  >
    <div class="flex flex-wrap items-baseline gap-x-3 gap-y-1 mb-1.5">
      <h1 class="flex-initial min-w-20 truncate" title={view.title}>
        <a
          class="no-underline"
          href={`/board/${trial.run}?cell=${encodeURIComponent(`${trial.suite}/${trial.task}/${trial.agent}`)}`}
          >{trial.task}</a
        >
      </h1>
      <span class="soft flex-initial min-w-15 truncate" title={trial.agent}
        >{trial.agent} · {view.agent.model ?? "model not seen"}{view.agent.simulated
          ? " (simulated)"
          : ""} · trial {trial.number}
        of run {trial.run}</span
      >
      <strong
        class={["flex-none min-w-15 max-w-[40%] truncate", verdictColour(trial.verdict)]}
        data-testid="verdict"
      >
        {#if result}
          {#if trial.verdict === "unjudged"}
            not judged: nothing is demanded of it
          {:else}
            {result.verdict}{result.verdict === "error"
              ? `: ${result.reason}`
              : failed
                ? `: ${failed} of ${counted(decided, "check")} failed`
                : `: ${counted(decided, "check")} held`}
          {/if}
        {:else}
          {view.run.state === "running" ? trial.state : "not finished"}
        {/if}
      </strong>
      <div class="flex flex-wrap items-center gap-1.5 ml-auto">
        <span class="whitespace-nowrap text-holds" role="status">{said}</span>
        <Button onclick={() => open(view?.near.previous)} disabled={!view.near.previous}
          >Previous<kbd>p</kbd></Button
        >
        <Button onclick={() => open(view?.near.next)} disabled={!view.near.next}
          >Next<kbd>n</kbd></Button
        >
        <Button onclick={() => open(view?.near.next_failure)} disabled={!view.near.next_failure}
          >Next failure<kbd>f</kbd></Button
        >
        <Button onclick={copyDigest} disabled={!result}>Copy digest<kbd>d</kbd></Button>
        {#if failed && result?.verdict === "fail"}
          <Button onclick={() => (mending = true)}>What would mend it?<kbd>m</kbd></Button>
          {#if canFork(view)}
            <Button onclick={() => (shrinking = true)}>Shrink<kbd>x</kbd></Button>
          {/if}
        {/if}
        <Button onclick={() => (keeping = !keeping)} aria-expanded={keeping} disabled={!result}
          >Keep as a task<kbd>k</kbd></Button
        >
      </div>
    </div>

    <div>
      {#if result?.went_wrong}
        <p class="mb-1" data-testid="went-wrong">
          {#if first}
            <Button kind="text" class="font-semibold" onclick={() => address.mark("call", first)}
              ><Sentence words={result.went_wrong.message} /></Button
            >
          {:else}
            <b class="text-sm font-semibold"><Sentence words={result.went_wrong.message} /></b>
          {/if}
        </p>
      {/if}
      <Origin {view} />
      {#if !view.trace.fork && view.result}
        <Forks {view} started={forks} onchoose={showPoint} />
      {/if}
      {#if replaying}
        <TrialReplay {view} onclose={() => (replaying = false)} />
      {/if}
      {#if setupOpen}<Setup {view} />{/if}
      {#if keeping}
        <Keep
          trial={number}
          suggested={trial.task === "talk" ? "kept" : trial.task}
          onclose={() => (keeping = false)}
        />
      {/if}
    </div>
    <div>
      <Tracks
        bind:this={drawing}
        {view}
        {scale}
        {chosen}
        lit={lit ? new Set(lit.calls) : null}
        onchoose={choose}
      />
    </div>

    <div
      data-testid="times"
      class="soft relative flex flex-wrap items-center gap-4.5 pt-1 pb-2 border-b border-b-line whitespace-nowrap text-sm"
    >
      <Button onclick={turnScale}
        >{scale === "steps" ? "Show in time" : "Show in steps"}<kbd>s</kbd></Button
      >
      <span class="flex gap-1" role="group" aria-label="Zoom">
        <Button onclick={() => drawing?.zoomOut()} title="Zoom out" aria-label="Zoom out">−</Button>
        <Button onclick={() => drawing?.zoomIn()} title="Zoom in" aria-label="Zoom in">+</Button>
        <Button onclick={() => drawing?.fit()} title="All of the trial at once"
          >All<kbd>0</kbd></Button
        >
      </span>
      <Button
        aria-expanded={setupOpen}
        onclick={() => (setupOpen = !setupOpen)}
        data-testid="open-setup">{setupOpen ? "Hide the set-up" : "Set-up"}<kbd>u</kbd></Button
      >
      <Button
        aria-expanded={replaying}
        disabled={!result}
        onclick={() => (replaying = !replaying)}
        data-testid="open-replay">Replay<kbd>r</kbd></Button
      >
      <Judged {view} onshow={(id) => address.mark("result", id === null ? null : String(id))} />
      {#if view.trace.fork}
        <span>times are not told: what came before was played back at once</span>
      {:else if latency}
        <span title={latency.turn_ms.map(duration).join(", ")}>{turnsTold(latency.turn_ms)}</span>
        {#each [["model", latency.model_ms], ["tools", latency.tool_ms], ["agent itself", latency.agent_ms]] as const as [what, ms] (what)}
          <span>{what} {ms === null ? "not seen" : duration(ms)}</span>
        {/each}
      {/if}
      {#if latency}
        {#if result?.tokens}
          <span>
            {grouped(result.tokens.input)} tokens in, {grouped(result.tokens.output)} out{view.agent
              .simulated
              ? " (estimated)"
              : ""}
          </span>
        {/if}
      {/if}
    </div>

    <div class="panels grid grid-cols-[1.1fr_1fr_1fr] min-h-0 max-md:block">
      <section class="min-w-0 min-h-0 pt-2 pb-3.5 px-3.5 overflow-auto" aria-label="Conversation">
        <Conversation {view} {chosen} onchoose={choose} onfork={(at) => (forkingAt = at)} />
      </section>
      <section class="min-w-0 min-h-0 pt-2 pb-3.5 px-3.5 overflow-auto" aria-label="Chosen call">
        {#if point}
          <Button class="float-right ml-2" onclick={() => (forkingAt = point.at)}
            >From here…<kbd>h</kbd></Button
          >
        {/if}
        {#if request}
          <ModelPanel {view} event={request} />
        {:else}
          <CallPanel {view} {chosen} />
        {/if}
      </section>
      <section
        class="min-w-0 min-h-0 pt-2 pb-3.5 px-3.5 overflow-auto"
        aria-label="Checks"
        data-testid="checks"
      >
        {#if result && result.verdict !== "error"}
          <Checks {result} chosen={lit?.id ?? null} onlight={light} />
          <Remarks remarks={view.remarks} />
          <Mark {view} />
        {:else}
          <p class="soft">
            {result
              ? "No checks: the trial could not be carried out."
              : "Checked when the trial is over."}
          </p>
          <Remarks remarks={view.remarks} />
        {/if}
      </section>
    </div>
  </article>
{/if}

{#if view && forkingFrom}
  <FromHere
    {view}
    point={forkingFrom}
    onstart={(run) => {
      forks = run;
      forkingAt = null;
      live.watch(run);
    }}
    onclose={() => (forkingAt = null)}
  />
{/if}
{#if view && shrinking}
  {#await import("../shrink/Shrink.svelte") then { default: Shrink }}
    <Shrink {view} onclose={() => (shrinking = false)} />
  {/await}
{/if}
{#if mending}<Mend trial={number} onclose={() => (mending = false)} />{/if}

<style>
  .panels section:first-child {
    padding-left: 0;
  }
  .panels section + section {
    border-left: 1px solid var(--line);
  }
</style>
