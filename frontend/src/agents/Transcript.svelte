<script lang="ts">
  /* What was said and called, as it happened; a call opens to its arguments and its answer. */
  import type { ModelEvent, TraceEvent } from "../api/trace";
  import { duration, shortTool } from "../values/text";
  import Brought from "../values/Brought.svelte";
  import Value from "../values/Value.svelte";

  let { events }: { events: TraceEvent[] } = $props();
  const became: Record<string, string> = {
    args: "let go with other arguments",
    answer: "answered by hand",
    fail: "failed by hand",
  };
  const replied = $derived(new Set(events.flatMap((e, i) => (e.kind === "reply" ? [i] : []))));

  /** Words on the way are shown until the reply is there. */
  function onTheWay(place: number): boolean {
    for (let i = place + 1; i < events.length; i++) if (replied.has(i)) return false;
    return true;
  }

  /** Whether a model's words are those of the reply that follows. */
  function isReply(event: ModelEvent, place: number): boolean {
    if (event.proposed?.length) return false;
    const next = events.slice(place + 1).find((e) => e.kind === "reply");
    return !next || next.text?.trim() === event.text?.trim();
  }
</script>

<ol>
  {#each events as event, i (i)}
    {#if event.kind === "turn"}
      <li class="user"><span class="who">you</span>{event.text}</li>
    {:else if event.kind === "reply"}
      <li class="agent"><span class="who">agent</span>{event.text || "(said nothing)"}</li>
    {:else if event.kind === "partial" && onTheWay(i)}
      <li class="agent soft"><span class="who">agent</span>{event.text}</li>
    {:else if event.kind === "model" && event.error}
      <li class="step text-broke">the model: {event.error.message}</li>
    {:else if event.kind === "model" && event.text && !isReply(event, i)}
      <li class="step soft">{event.text}</li>
    {:else if event.kind === "ask"}
      <li class="step soft">
        asked to call {event.tool}: {event.decision === "approve"
          ? "approved"
          : "denied"}{event.edited ? ", with other arguments" : ""}
      </li>
    {:else if event.kind === "hold" && event.s != null}
      <li class="step text-doubt">
        {event.tool} was held, then {became[event.did ?? ""] ?? "let go"}
      </li>
    {:else if event.kind === "question" && event.s != null}
      <li class="step soft">a server asked: {event.text} ({event.did})</li>
    {:else if event.kind === "call"}
      <li class="step">
        <details>
          <summary>
            <b>{shortTool(event.tool ?? "")}</b>
            <span class="args soft">{JSON.stringify(event.args)}</span>
            <span class="soft time">{event.s == null ? "…" : duration(event.s * 1000)}</span>
          </summary>
          <Value value={event.args} depth={1} />
        </details>
        {#if event.error}
          <p class="text-broke">{event.error.message}</p>
        {:else if event.s != null}
          <div class="result"><Brought {event} depth={1} /></div>
        {/if}
      </li>
    {/if}
  {/each}
</ol>

<style>
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    margin: 0 0 5px;
    overflow-wrap: anywhere;
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
    padding: 3px 0 3px 46px;
    text-indent: -46px;
    white-space: pre-wrap;
  }
  .user:not(:first-child) {
    border-top: 1px solid var(--line);
    margin-top: 8px;
  }
  .agent {
    font-weight: 550;
  }
  .step {
    margin-left: 46px;
    padding-left: 8px;
    border-left: 2px solid var(--line);
    font-size: 12.5px;
  }
  summary {
    display: grid;
    grid-template-columns: auto 1fr auto;
    gap: 8px;
    cursor: pointer;
  }
  .args {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .result {
    max-height: 170px;
    overflow: auto;
    font-size: 12.5px;
  }
  p {
    margin: 0;
  }
</style>
