<script lang="ts">
  /* A call that is held: looked at, changed, answered in the server's place, or let go. */
  import { Action, messageOf } from "../api/resource.svelte";
  import type { Json } from "../values/json";
  import { untrack } from "svelte";
  import type { HoldDecision } from "../api/client";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    tool: string;
    args: Record<string, unknown>;
    ondecide: (decision: HoldDecision) => Promise<void> | void;
  }
  let { tool, args, ondecide }: Props = $props();

  const given = untrack(() => JSON.stringify(args, null, 1));
  let text = $state(given);
  let answer = $state("");
  let answering = $state(false);
  const act = new Action();
  let mistake = $state("");
  const changed = $derived(text !== given);

  function give(decision: HoldDecision) {
    mistake = "";
    return act.run(async () => ondecide(decision));
  }

  function go() {
    if (!changed) return give({ do: "go", value: null });
    try {
      const value = JSON.parse(text) as Json;
      if (typeof value !== "object" || value === null || Array.isArray(value))
        throw new Error("arguments are an object");
      return give({ do: "args", value });
    } catch (error) {
      mistake = `These are not arguments: ${messageOf(error)}`;
    }
  }

  function inItsPlace() {
    let value: Json = answer;
    try {
      value = JSON.parse(answer) as Json;
    } catch {
      // Words are an answer too.
    }
    return give({ do: "answer", value });
  }
</script>

<div
  class="flex flex-wrap gap-x-4.5 gap-y-2 pt-1.5 pb-2 px-3 border-l-3 border-l-doubt bg-doubt-wash"
  role="group"
  aria-label="A held call"
  data-testid="held"
>
  <div class="flex-[1_1_260px] min-w-0">
    <p class="mb-1"><b>{tool}</b> <span class="soft">waits before it goes out</span></p>
    <TextArea
      class="mono"
      rows={Math.min(10, text.split("\n").length)}
      bind:value={text}
      aria-label="Arguments of the held call"
      spellcheck="false"
    />
    <div class="flex flex-wrap gap-2 mt-1">
      <Button kind="go" onclick={go} disabled={act.busy}
        >{changed ? "Let it go with these arguments" : "Let it go"}</Button
      >
      <Button onclick={() => give({ do: "fail", value: answer || null })} disabled={act.busy}
        >Fail it</Button
      >
      {#if !answering}
        <Button onclick={() => (answering = true)}>Answer in its place…</Button>
      {/if}
    </div>
  </div>
  {#if answering}
    <div class="flex-[1_1_260px] min-w-0">
      <p class="soft mb-1">The answer, as JSON or words; the server is not asked</p>
      <TextArea class="mono" rows={4} bind:value={answer} aria-label="Answer in its place" />
      <div class="flex flex-wrap gap-2 mt-1">
        <Button kind="go" onclick={inItsPlace} disabled={act.busy || !answer.trim()}
          >Answer with this</Button
        >
        <Button onclick={() => (answering = false)}>Rather not</Button>
      </div>
    </div>
  {/if}
  <Fault message={mistake || act.fault} class="mb-1 [flex-basis:100%]" />
</div>
