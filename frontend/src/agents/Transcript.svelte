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
      <li
        class="user mb-1.25 py-0.75 pl-11.5 whitespace-pre-wrap wrap-anywhere [text-indent:-46px]"
      >
        <span class="inline-block w-11.5 text-sm font-normal text-soft [text-indent:0]">you</span
        >{event.text}
      </li>
    {:else if event.kind === "reply"}
      <li
        class="mb-1.25 py-0.75 pl-11.5 whitespace-pre-wrap wrap-anywhere font-medium [text-indent:-46px]"
      >
        <span class="inline-block w-11.5 text-sm font-normal text-soft [text-indent:0]">agent</span
        >{event.text || "(said nothing)"}
      </li>
    {:else if event.kind === "partial" && onTheWay(i)}
      <li
        class="soft mb-1.25 py-0.75 pl-11.5 whitespace-pre-wrap wrap-anywhere font-medium [text-indent:-46px]"
      >
        <span class="inline-block w-11.5 text-sm font-normal text-soft [text-indent:0]">agent</span
        >{event.text}
      </li>
    {:else if event.kind === "model" && event.error}
      <li class="text-broke mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        the model: {event.error.message}
      </li>
    {:else if event.kind === "model" && event.text && !isReply(event, i)}
      <li class="soft mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        {event.text}
      </li>
    {:else if event.kind === "ask"}
      <li class="soft mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        asked to call {event.tool}: {event.decision === "approve"
          ? "approved"
          : "denied"}{event.edited ? ", with other arguments" : ""}
      </li>
    {:else if event.kind === "hold" && event.s != null}
      <li class="text-doubt mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        {event.tool} was held, then {became[event.did ?? ""] ?? "let go"}
      </li>
    {:else if event.kind === "question" && event.s != null}
      <li class="soft mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        a server asked: {event.text} ({event.did})
      </li>
    {:else if event.kind === "call"}
      <li class="mb-1.25 ml-11.5 pl-2 border-l-2 border-l-line wrap-anywhere text-sm">
        <details>
          <summary class="grid gap-2 grid-cols-[auto_1fr_auto] cursor-pointer">
            <b>{shortTool(event.tool ?? "")}</b>
            <span class="soft truncate">{JSON.stringify(event.args)}</span>
            <span class="soft">{event.s == null ? "…" : duration(event.s * 1000)}</span>
          </summary>
          <Value value={event.args} depth={1} />
        </details>
        {#if event.error}
          <p class="text-broke">{event.error.message}</p>
        {:else if event.s != null}
          <div class="max-h-42.5 overflow-auto text-sm"><Brought {event} depth={1} /></div>
        {/if}
      </li>
    {/if}
  {/each}
</ol>

<style>
  .user:not(:first-child) {
    border-top: 1px solid var(--line);
    margin-top: 8px;
  }
</style>
