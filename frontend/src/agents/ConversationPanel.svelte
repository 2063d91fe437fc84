<script lang="ts">
  /* A conversation by hand: calls as they happen, approvals and questions answered here. */
  import { Typed } from "../editor/typed.svelte";
  import { tick, untrack } from "svelte";
  import type { AgentDetail, HoldRule, Overrides } from "../api/client";
  import type { TraceEvent } from "../api/trace";
  import HeldCall from "../holding/HeldCall.svelte";
  import HoldChoice from "../holding/HoldChoice.svelte";
  import ServerQuestion from "../servers/ServerQuestion.svelte";
  import type { Schema } from "../servers/schema";
  import Sentence from "../values/Sentence.svelte";
  import Approval from "./Approval.svelte";
  import Transcript from "./Transcript.svelte";
  import type { Offer } from "./offer";
  import { conversations } from "./conversations.svelte";
  import { dayAndTime } from "../values/text";
  import Button from "../kit/Button.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    detail: AgentDetail;
    overrides: Overrides;
    offer: Offer | null;
  }
  let { detail, overrides, offer }: Props = $props();

  const typed = untrack(() => new Typed(`words to ${detail.line.agent}`, { words: "" }));
  let hold = $state.raw<HoldRule | null>(null);
  let busy = $state(false);
  let bottom: HTMLDivElement;

  const agent = $derived(detail.line.agent);
  const conversation = $derived(conversations.byAgent[agent] ?? null);
  const going = $derived(conversation !== null && !conversation.over);
  const waits = $derived(conversation?.waits ?? null);
  const events = $derived((conversation?.events ?? []) as unknown as TraceEvent[]);
  const ending = $derived(events.find((e) => e.kind === "end"));
  const clock = $derived(conversation?.clock ?? detail.clock);
  /** Which day it is for the agent. */
  const today = $derived.by(() => {
    if (!clock.now) return "For the agent it is the real day and time.";
    const when = `For the agent it is ${dayAndTime(clock.now, clock.zone)} (${clock.zone})`;
    return detail.clock.suite ? `${when}, as ${detail.clock.suite} says.` : `${when}.`;
  });
  const busyWith = $derived.by(() => {
    const last = events.at(-1);
    if (!going || waits) return "";
    if (!last || last.kind === "turn") return last ? "It is thinking…" : "Starting it…";
    if (last.kind === "call" && last.s == null) return `Calling ${last.tool}…`;
    return last.kind === "reply" ? "" : "It is thinking…";
  });

  $effect(() => {
    void conversations.find();
  });

  $effect(() => {
    void waits;
    if (!events.length) return;
    void tick().then(() => bottom?.scrollIntoView({ block: "end" }));
  });

  async function say(event?: SubmitEvent) {
    event?.preventDefault();
    const text = typed.fields.words.trim();
    if (!text || busy) return;
    busy = true;
    if (!going) {
      await conversations.begin(agent, { overrides, offer, hold });
      const end = Date.now() + (detail.limits["start_s"] ?? 60) * 1000 + 15_000;
      while (
        conversations.byAgent[agent] &&
        !conversations.byAgent[agent].over &&
        Date.now() < end
      ) {
        if (conversations.byAgent[agent].waits?.kind === "words") break;
        await new Promise((done) => setTimeout(done, 60));
      }
    }
    const now = conversations.byAgent[agent];
    if (now?.waits?.kind === "words") {
      typed.clear();
      await conversations.say(now, text);
    }
    busy = false;
  }

  function key(event: KeyboardEvent) {
    if (event.key === "Enter" && !event.shiftKey) {
      event.preventDefault();
      void say();
    }
  }

  function setHold(rule: HoldRule | null) {
    hold = rule;
    if (conversation && going) void conversations.hold(conversation, rule);
  }
</script>

<div class="flex flex-col min-h-0 pl-4 border-l border-l-line" data-testid="conversation">
  <div class="flex-1 min-h-0 py-2 overflow-auto" role="log" aria-label="Conversation">
    <p class="soft my-1 text-sm" data-testid="clock">{today}</p>
    {#if !conversation}
      <p class="soft max-w-115 my-1">
        Say something to begin. Its calls show here as they happen; approvals, and questions of its
        servers, are answered by you. The conversation is kept as a trial.
      </p>
    {:else}
      {#each Object.entries(conversation.without) as [server, why] (server)}
        <p class="my-1 pl-2.5 border-l-3 border-l-doubt text-sm" role="status">
          It goes on without <b>{server}</b>, which could not be opened: <Sentence words={why} />.
          <a href={`/servers/${server}`}>Look at it</a>
        </p>
      {/each}
      <Transcript {events} />
      {#if busyWith}<p
          class="soft my-1 pl-11.5 [animation:moving_1.4s_infinite]"
          aria-live="polite"
        >
          {busyWith}
        </p>{/if}
      {#if going && waits?.kind === "held" && waits.tool}
        <HeldCall
          tool={waits.tool}
          args={waits.args ?? {}}
          ondecide={(body) => conversations.decideHeld(conversation, body)}
        />
      {:else if going && waits?.kind === "approval" && waits.tool}
        <Approval
          tool={waits.tool}
          args={waits.args ?? {}}
          ondecide={(yes, args) => conversations.decide(conversation, yes, args)}
        />
      {:else if going && waits?.kind === "question"}
        <ServerQuestion
          message={waits.message ?? ""}
          wants={(waits.wants ?? {}) as Schema}
          url={waits.url}
          onanswer={(action, content) => conversations.answer(conversation, action, content)}
        />
      {/if}
      {#if conversation.over}
        <p
          class={[
            "my-1",
            ending && !["done", "stopped"].includes(ending.why ?? "") ? "text-broke" : "soft",
          ]}
        >
          {ending && ending.why !== "done"
            ? `It ended: ${ending.why?.replaceAll("_", " ")}. ${ending.reason ?? ""}`
            : "The conversation is over."}
          {#if ending?.why === "did_not_start"}
            <a href={`/agents/${agent}?view=probe`}>Probe it</a>
          {/if}
          <a href={`/trial/${conversation.trial}`}>Open it as trial {conversation.trial}</a>
          <a href={`/trial/${conversation.trial}?keep=1`}>Keep it as a task</a>
        </p>
      {/if}
    {/if}
    <div bind:this={bottom}></div>
  </div>
  {#if conversations.fault}<p class="text-broke my-1" role="alert">{conversations.fault}</p>{/if}
  <form class="pt-2 pb-2.5 border-t border-t-line" onsubmit={say}>
    <TextArea
      bind:value={typed.fields.words}
      onkeydown={key}
      rows={2}
      placeholder={going && waits?.kind !== "words" && conversation ? "" : "What the user says"}
      aria-label="What the user says"
      data-testid="words"
    />
    <div class="flex items-center gap-2.5 mt-1.25 text-sm">
      <Button
        type="submit"
        kind="go"
        disabled={busy || !typed.fields.words.trim() || (going && waits?.kind !== "words")}
      >
        {going ? "Say it" : conversation ? "Begin again with this" : "Begin with this"}
      </Button>
      {#if conversation && going}
        <Button onclick={() => conversations.end(conversation)}
          >End it, keep as trial {conversation.trial}</Button
        >
      {/if}
      <span class="ml-auto"
        ><HoldChoice
          rule={conversation && going ? (conversation.hold ?? null) : hold}
          onset={setHold}
        /></span
      >
    </div>
  </form>
</div>
