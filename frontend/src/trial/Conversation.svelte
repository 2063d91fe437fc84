<script lang="ts">
  import {
    type AskEvent,
    type CallEvent,
    isReplyTool,
    type ModelEvent,
    proposerOf,
    type TrialView,
    type TurnEvent,
  } from "../api/trace";
  import type { Json } from "../values/json";
  import { differences } from "../values/differences";
  import { duration, shortTool } from "../values/text";
  import Value from "../values/Value.svelte";
  import Whole from "./Whole.svelte";
  import Reply from "./Reply.svelte";

  interface Props {
    view: TrialView;
    chosen: string | null;
    onchoose: (id: string) => void;
  }
  let { view, chosen, onchoose }: Props = $props();

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
  const voices = $derived(Object.keys(view.trace.voices ?? {}).length > 1);
  const lastReply = $derived(view.trace.events.findLastIndex((e) => e.kind === "reply"));
  const truths = $derived(Object.entries(view.trace.truth ?? {}));

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

<ol class="conversation">
  {#each view.trace.events as event, i (i)}
    {#if several && event.kind === "turn" && opens(event, i)}
      <li class="part">part {(event.part ?? 0) + 1}</li>
    {/if}
    {#if event.kind === "turn"}
      {@const by = rule(event)}
      <li class="user">
        <span class="who">user</span>{event.text}
        {#if by}
          <span class="by soft">
            by the rule <span class="mono">/{by.matches}/</span>{#if by.grants}, <b class="grant"
                >the go-ahead {by.grants}</b
              >{/if}
          </span>
        {/if}
      </li>
    {:else if event.kind === "reply"}
      <li class="agent">
        <span class="who">agent</span>{#if event.text}<Reply
            text={event.text}
            values={view.values[i] ?? []}
            {chosen}
            {onchoose}
          />{:else}(said nothing){/if}
      </li>
      {#if view.long.includes(i)}
        <li class="step"><Whole trial={view.trial.id} place={i} fields={["text", "data"]} /></li>
      {/if}
      {#if event.of}
        <li class="step text-doubt">This was not text but a {event.of}.</li>
      {/if}
      {#if event.data !== null && event.data !== undefined}
        <li class="step"><span class="soft">data</span> <Value value={event.data} /></li>
      {/if}
      {#if i === lastReply && truths.length}
        <li class="truth" data-testid="truth">
          <h4>the truth, looked up by Ferox</h4>
          {#each truths as [name, truth] (name)}
            <div>
              <span class="name">{name}</span>
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
              {#if truth.error}<span class="broke">{truth.error.message}</span>
              {:else}<Value value={truth.result} depth={1} />{/if}
            </div>
          {/each}
        </li>
      {/if}
    {:else if event.kind === "model" && saysMore(event, i)}
      <li class="thought soft">
        <details>
          <summary
            >{voices && event.voice ? event.voice : "the model"}
            {event.proposed?.length ? "said besides" : "said, and proposed no call"}:
            <span class="start">{start(event.text ?? "")}</span></summary
          >
          <p class="words">{event.text}</p>
        </details>
      </li>
    {:else if event.kind === "ask"}
      <li class="step ask">
        <span class={event.decision === "approve" ? "text-holds" : "broke"}
          >{event.decision === "approve" ? "approved" : "denied"}</span
        >
        before it was called: {event.tool}
        {#if event.edited}<span class="text-doubt">edited: {edits(event)}</span>{/if}
      </li>
    {:else if event.kind === "hold"}
      <li class="step soft">
        {event.tool} held by hand {event.s == null ? "" : duration(event.s * 1000)}{event.did &&
        event.did !== "go"
          ? `, then ${event.did === "args" ? "given other arguments" : event.did === "answer" ? "answered by hand" : "failed by hand"}`
          : ""}
      </li>
    {:else if event.kind === "call" && isReplyTool(view.trace, event.tool)}
      <li class="step soft">the framework replied by {shortTool(event.tool ?? "")}</li>
    {:else if event.kind === "call"}
      <li class="step">
        <button
          class={{ chosen: chosen === event.id }}
          onclick={() => event.id && onchoose(event.id)}
        >
          <span class="tool"
            >{shortTool(event.tool ?? "")}{#if voiceOf(event)}<span class="voice"
                >{voiceOf(event)}</span
              >{/if}</span
          >
          <span class="came">
            {#if event.error}
              <span class="broke">{event.error.message}</span>
            {:else}
              <span class="soft">{JSON.stringify(event.args)}</span>
            {/if}
          </span>
          <span class="soft role">{role[event.id ?? ""] ?? ""}</span>
          <span class="soft time">{event.s == null ? "…" : duration(event.s * 1000)}</span>
        </button>
        {#if event.id && view.injected[event.id]}
          <p class="planted text-doubt">{view.injected[event.id]}</p>
        {/if}
        {#if event.hides}
          <p class="planted text-doubt">Ran inside the agent; hides {event.hides}.</p>
        {/if}
        {#if event.id && view.planted[event.id] !== undefined}
          <p class="planted text-doubt">
            Ferox planted in its result: “{view.planted[event.id]}”
          </p>
        {/if}
        {#if obeyed.has(event.id)}
          <p class="planted broke">This is what a planted text had asked for.</p>
        {/if}
      </li>
    {/if}
  {/each}
  {#if ending && ending.why !== "done"}
    <li class="ending">
      Ended: {ending.why?.replaceAll("_", " ")}{ending.reason ? `. ${ending.reason}` : ""}
    </li>
  {/if}
</ol>

<style>
  .conversation {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    margin: 0 0 5px;
    overflow-wrap: anywhere;
  }
  .part {
    color: var(--iron);
    font-size: 12.5px;
    font-weight: 600;
    margin: 10px 0 2px;
  }
  .part:first-child {
    margin-top: 0;
  }
  .who {
    display: inline-block;
    width: 46px;
    text-indent: 0;
    color: var(--soft);
    font-size: 12.5px;
    font-weight: 400;
  }
  .user,
  .agent {
    padding: 4px 0 4px 46px;
    text-indent: -46px;
    white-space: pre-wrap;
  }
  .user {
    border-top: 1px solid var(--line);
    margin-top: 6px;
  }
  .user:first-child,
  .part + .user {
    border-top: 0;
    margin-top: 0;
  }
  .by {
    display: block;
    text-indent: 0;
    font-size: 12.5px;
    white-space: normal;
  }
  .grant {
    color: var(--holds);
    font-weight: 550;
  }
  .agent {
    font-weight: 550;
  }
  .step,
  .thought,
  .truth {
    padding-left: 46px;
  }
  .ask {
    font-size: 12.5px;
  }
  .voice {
    font-weight: 400;
    font-size: 11px;
    color: var(--soft);
    margin: 0 6px;
  }
  .truth h4 {
    margin: 4px 0 2px;
    font-size: 12.5px;
    font-weight: 600;
    color: var(--iron);
  }
  .truth {
    font-size: 12.5px;
  }
  .truth .name {
    font-weight: 550;
    margin-right: 8px;
  }
  summary {
    cursor: pointer;
    font-size: 12.5px;
  }
  summary {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .thought details[open] .start {
    display: none;
  }
  .words {
    margin: 0;
    white-space: pre-wrap;
  }
  .planted {
    margin: 0 0 0 10px;
    font-size: 12.5px;
  }
  button {
    display: grid;
    grid-template-columns: auto 1fr auto 58px;
    gap: 8px;
    width: 100%;
    background: none;
    border: 0;
    border-left: 2px solid var(--line);
    padding: 1px 0 1px 8px;
    color: inherit;
    text-align: left;
    cursor: pointer;
  }
  button:hover,
  .chosen {
    background: var(--raised);
    border-left-color: var(--iron);
  }
  .tool {
    font-weight: 550;
  }
  .came {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .broke,
  .ending {
    color: var(--broke);
  }
  .time {
    text-align: right;
  }
  .ending {
    padding-top: 6px;
  }
</style>
