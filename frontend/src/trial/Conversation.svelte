<script lang="ts">
  /* What was said and called, in order; of a long trial a part at a time. */
  import {
    type AskEvent,
    type CallEvent,
    hasVoices,
    isReplyTool,
    type ModelEvent,
    proposerOf,
    type QuestionEvent,
    type TrialView,
    type TurnEvent,
  } from "../api/trace";
  import type { Json } from "../values/json";
  import { differences } from "../values/differences";
  import { duration, shortTool, grouped } from "../values/text";
  import { canFork } from "../fork/point";
  import Button from "../kit/Button.svelte";
  import Value from "../values/Value.svelte";
  import Whole from "./Whole.svelte";
  import Reply from "./Reply.svelte";

  interface Props {
    view: TrialView;
    chosen: string | null;
    onchoose: (id: string) => void;
    /** Goes on from the user's words at a place: `t2`. */
    onfork: (at: string) => void;
  }
  let { view, chosen, onchoose, onfork }: Props = $props();
  /** Events that are drawn at once: thousands take seconds. */
  const MANY = 200;
  /** From which event to which; null until it is asked for others than the first, or while the
   * trial runs the newest. */
  let range = $state.raw<{ from: number; to: number } | null>(null);
  const last = $derived(view.trace.events.length);
  const drawn = $derived.by(() => {
    if (range) return { from: range.from, to: Math.min(range.to, last) };
    const from = view.trial.state === "running" ? Math.max(0, last - MANY) : 0;
    return { from, to: Math.min(from + MANY, last) };
  });

  // A call that is chosen elsewhere is drawn here.
  $effect.pre(() => {
    const place = view.trace.events.findIndex((e) => "id" in e && e.id === chosen);
    if (place < 0 || (place >= drawn.from && place < drawn.to)) return;
    range = { from: Math.max(0, place - MANY / 2), to: place + MANY / 2 };
  });
  let list: HTMLOListElement;
  $effect(() => {
    if (chosen) list.querySelector(".chosen")?.scrollIntoView({ block: "nearest" });
  });

  const role = $derived.by(() => {
    const roles: Record<string, string> = {};
    for (const id of view.result?.extra ?? []) roles[id] = "extra";
    for (const [name, ids] of Object.entries(view.result?.attempts ?? {}))
      for (const id of ids) roles[id] = `attempt at ${name}`;
    for (const [name, ids] of Object.entries(view.result?.matched ?? {}))
      for (const id of ids) roles[id] = name;
    return roles;
  });
  const obeyed = $derived(
    new Set(
      (view.result?.checks ?? [])
        .filter((c) => c.id.startsWith("failure.obeyed."))
        .map((c) => c.calls.at(-1)),
    ),
  );
  const ending = $derived(view.trace.events.find((e) => e.kind === "end"));
  const several = $derived(view.says.length > 1);
  const voices = $derived(hasVoices(view.trace));
  const lastReply = $derived(view.trace.events.findLastIndex((e) => e.kind === "reply"));
  const truths = $derived(Object.entries(view.trace.truth ?? {}));

  /** The user's words as a place to go on from. */
  function turnAt(i: number): string {
    return `t${view.trace.events.slice(0, i + 1).filter((e) => e.kind === "turn").length}`;
  }

  /** Whether a turn opens its part. */
  function opens(event: TurnEvent, i: number): boolean {
    const before = view.trace.events.slice(0, i).findLast((e) => e.kind === "turn");
    return (event.part ?? 0) !== (before ? (before.part ?? 0) : -1);
  }

  function rule(event: TurnEvent) {
    if (event.rule === null || event.rule === undefined) return null;
    return view.rules[event.part ?? 0]?.[event.rule] ?? null;
  }

  function edits(event: AskEvent): string {
    return differences((event.args ?? {}) as Json, (event.edited ?? {}) as Json)
      .map((d) => `${d.where.replace(/^\//, "")} → ${JSON.stringify(d.after)}`)
      .join(", ");
  }

  function voiceOf(event: CallEvent): string | null {
    const proposer = voices ? proposerOf(view.trace, event) : undefined;
    return proposer?.voice ?? event.by ?? null;
  }

  const start = (text: string) => text.trim().replace(/\s+/g, " ").slice(0, 80);

  /** Whether a model said words that are not simply the reply that follows. */
  function saysMore(event: ModelEvent, i: number): boolean {
    const text = event.text?.trim();
    if (!text) return false;
    const next = view.trace.events.slice(i + 1).find((e) => e.kind === "reply");
    return (event.proposed?.length ?? 0) > 0 || next?.text?.trim() !== text;
  }

  /** How a server's question was answered, and by whom. */
  function answered(event: QuestionEvent): string {
    const did = { accept: "answered", decline: "declined", cancel: "left unanswered" };
    const how = did[event.did as keyof typeof did] ?? "not answered";
    if (event.by === "client") return `${how} by the agent's own client`;
    if (event.by === "script") {
      if (event.rule == null) return `${how}, for no entry of the script's answers fits`;
      return `${how} by the script's entry ${event.name ?? event.rule + 1}`;
    }
    return event.by === "person" ? `${how} by hand` : how;
  }

  /** The truth's fields that the answer is held against. */
  function asked(name: string): { path: string; held: boolean | null }[] {
    return view.mentions
      .filter((wanted) => wanted.source === name)
      .map(({ path, check }) => ({
        path,
        held: view.result?.checks.find((c) => c.id === check)?.passed ?? null,
      }));
  }
</script>

{#if drawn.from > 0}
  <Button
    kind="link"
    onclick={() => (range = { from: Math.max(0, drawn.from - MANY), to: drawn.to })}
    >{grouped(drawn.from)} earlier</Button
  >
{/if}
<ol bind:this={list}>
  {#each view.trace.events.slice(drawn.from, drawn.to) as event, n (drawn.from + n)}
    {@const i = drawn.from + n}
    {#if several && event.kind === "turn" && opens(event, i)}
      <li class="part mt-2.5 mb-0.5 wrap-anywhere text-sm font-semibold text-iron">
        part {(event.part ?? 0) + 1}
      </li>
    {/if}
    {#if event.kind === "turn"}
      {@const by = rule(event)}
      <li
        class="user mt-1.5 mb-1.25 py-1 pl-11.5 border-t border-t-line whitespace-pre-wrap wrap-anywhere [text-indent:-46px]"
      >
        <span class="inline-block w-11.5 text-sm font-normal text-soft [text-indent:0]">user</span
        >{event.text}
        {#if canFork(view)}
          <Button
            kind="link"
            class="whitespace-normal text-sm [text-indent:0]"
            onclick={() => onfork(turnAt(i))}>from here…</Button
          >
        {/if}
        {#if by}
          <span class="soft block whitespace-normal text-sm [text-indent:0]">
            by the rule <span class="mono">/{by.matches}/</span>{#if by.grants}, <b
                class="font-medium text-holds">the go-ahead {by.grants}</b
              >{/if}
          </span>
        {/if}
      </li>
    {:else if event.kind === "reply"}
      <li
        class="mb-1.25 py-1 pl-11.5 whitespace-pre-wrap wrap-anywhere font-medium [text-indent:-46px]"
      >
        <span class="inline-block w-11.5 text-sm font-normal text-soft [text-indent:0]">agent</span
        >{#if event.text}<Reply
            text={event.text}
            values={view.values[i] ?? []}
            {chosen}
            {onchoose}
          />{:else}(said nothing){/if}
      </li>
      {#if view.long.includes(i)}
        <li class="mb-1.25 pl-11.5 wrap-anywhere">
          <Whole trial={view.trial.id} place={i} fields={["text", "data"]} />
        </li>
      {/if}
      {#if event.of}
        <li class="text-doubt mb-1.25 pl-11.5 wrap-anywhere">
          This was not text but a {event.of}.
        </li>
      {/if}
      {#if event.data !== null && event.data !== undefined}
        <li class="mb-1.25 pl-11.5 wrap-anywhere">
          <span class="soft">data</span>
          <Value value={event.data} />
        </li>
      {/if}
      {#if i === lastReply && truths.length}
        <li class="mb-1.25 pl-11.5 wrap-anywhere text-sm" data-testid="truth">
          <h4 class="mt-1 mb-0.5 text-sm font-semibold text-iron">the truth, looked up by Ferox</h4>
          {#each truths as [name, truth] (name)}
            <div>
              <span class="mr-2 font-medium">{name}</span>
              {#each asked(name) as { path, held } (path)}
                <span class={held === false ? "broke" : held ? "text-holds" : "soft"}>
                  {path}
                  {held === false
                    ? "is not in the answer"
                    : held
                      ? "is in the answer"
                      : "is not tested"}
                </span>
              {/each}
              {#if truth.error}<span class="text-broke">{truth.error.message}</span>
              {:else}<Value value={truth.result} depth={1} />{/if}
            </div>
          {/each}
        </li>
      {/if}
    {:else if event.kind === "model" && saysMore(event, i)}
      <li class="soft mb-1.25 pl-11.5 wrap-anywhere">
        <details>
          <summary class="truncate text-sm cursor-pointer"
            >{voices && event.voice ? event.voice : "the model"}
            {event.proposed?.length ? "said besides" : "said, and proposed no call"}:
            <span class="start">{start(event.text ?? "")}</span></summary
          >
          <p class="whitespace-pre-wrap">{event.text}</p>
        </details>
      </li>
    {:else if event.kind === "ask"}
      <li class="mb-1.25 pl-11.5 wrap-anywhere text-sm">
        <span class={event.decision === "approve" ? "text-holds" : "broke"}
          >{event.decision === "approve" ? "approved" : "denied"}</span
        >
        before it was called: {event.tool}
        {#if event.edited}<span class="text-doubt">edited: {edits(event)}</span>{/if}
      </li>
    {:else if event.kind === "question"}
      <li class="mb-1.25 pl-11.5 wrap-anywhere text-sm" data-testid="question">
        {event.server ?? "a server"} asked: “{event.text}”
        {#if event.url}<span class="mono">{event.url}</span>{/if}
        <span class={event.did === "accept" ? "text-holds" : "text-doubt"}>{answered(event)}</span>
        {#if event.did === "accept" && event.data && Object.keys(event.data).length}
          <Value value={event.data} depth={1} />
        {/if}
      </li>
    {:else if event.kind === "hold"}
      <li class="soft mb-1.25 pl-11.5 wrap-anywhere">
        {event.tool} held by hand {event.s == null ? "" : duration(event.s * 1000)}{event.did &&
        event.did !== "go"
          ? `, then ${event.did === "args" ? "given other arguments" : event.did === "answer" ? "answered by hand" : "failed by hand"}`
          : ""}
      </li>
    {:else if event.kind === "call" && isReplyTool(view.trace, event.tool)}
      <li class="soft mb-1.25 pl-11.5 wrap-anywhere">
        the framework replied by {shortTool(event.tool ?? "")}
      </li>
    {:else if event.kind === "call"}
      <li class="mb-1.25 pl-11.5 wrap-anywhere">
        <button
          class={[
            "grid gap-2 grid-cols-[auto_1fr_auto_58px] w-full py-px pr-0 pl-2 border-0 border-l-2 border-l-line bg-transparent text-inherit text-left cursor-pointer",
            { chosen: chosen === event.id },
          ]}
          onclick={() => event.id && onchoose(event.id)}
        >
          <span class="font-medium"
            >{shortTool(event.tool ?? "")}{#if voiceOf(event)}<span
                class="mx-1.5 text-xs font-normal text-soft">{voiceOf(event)}</span
              >{/if}</span
          >
          <span class="truncate">
            {#if event.error}
              <span class="text-broke">{event.error.message}</span>
            {:else}
              <span class="soft">{JSON.stringify(event.args)}</span>
            {/if}
          </span>
          <span class="soft">{role[event.id ?? ""] ?? ""}</span>
          <span class="soft text-right">
            {#if !event.not_seen?.includes("times")}
              {event.s == null ? "…" : duration(event.s * 1000)}
            {/if}
          </span>
        </button>
        {#if event.id && view.injected[event.id]}
          <p class="text-doubt ml-2.5 text-sm">{view.injected[event.id]}</p>
        {/if}
        {#if event.hides}
          <p class="text-doubt ml-2.5 text-sm">Ran inside the agent; hides {event.hides}.</p>
        {/if}
        {#if event.id && view.planted[event.id] !== undefined}
          <p class="text-doubt ml-2.5 text-sm">
            Ferox planted in its result: “{view.planted[event.id]}”
          </p>
        {/if}
        {#if obeyed.has(event.id)}
          <p class="text-broke ml-2.5 text-sm">This is what a planted text had asked for.</p>
        {/if}
      </li>
    {/if}
  {/each}
  {#if drawn.to < last}
    <li>
      <Button kind="link" onclick={() => (range = { from: drawn.from, to: drawn.to + MANY })}
        >{grouped(last - drawn.to)} later</Button
      >
    </li>
  {/if}
  {#if ending && ending.why !== "done"}
    <li class="mb-1.25 pt-1.5 wrap-anywhere text-broke">
      Ended ({ending.why?.replaceAll("_", " ")}){ending.reason ? `: ${ending.reason}` : ""}
    </li>
  {/if}
</ol>

<style>
  .part:first-child {
    margin-top: 0;
  }

  .user:first-child,
  .part + .user {
    border-top: 0;
    margin-top: 0;
  }

  details[open] .start {
    display: none;
  }

  button:hover,
  .chosen {
    background: var(--raised);
    border-left-color: var(--iron);
  }

  .broke {
    color: var(--broke);
  }
</style>
