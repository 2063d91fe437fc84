<script lang="ts">
  /* An approval that the agent asks for, with arguments that may be edited first. */
  import { messageOf } from "../api/resource.svelte";
  import { untrack } from "svelte";
  import Button from "../kit/Button.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    tool: string;
    args: Record<string, unknown>;
    ondecide: (approved: boolean, args: Record<string, unknown> | null) => void;
  }
  let { tool, args, ondecide }: Props = $props();
  const given = untrack(() => JSON.stringify(args, null, 1));
  let text = $state(given);
  let fault = $state("");

  function approve() {
    if (text === given) return ondecide(true, null);
    try {
      ondecide(true, JSON.parse(text) as Record<string, unknown>);
    } catch (error) {
      fault = `These are not arguments: ${messageOf(error)}`;
    }
  }
</script>

<div
  class="my-1.5 pt-1.5 pb-2 px-3 border-l-3 border-l-doubt bg-doubt-wash"
  role="group"
  aria-label="The agent asks"
  data-testid="approval"
>
  <p class="mb-1"><b>May it call {tool}?</b></p>
  <TextArea
    class="mono"
    rows={Math.min(10, text.split("\n").length)}
    bind:value={text}
    aria-label="Arguments"
    spellcheck="false"
  />
  <div class="flex items-center gap-2 mt-1">
    <Button kind="go" onclick={approve}
      >{text === given ? "Yes" : "Yes, with these arguments"}</Button
    >
    <Button onclick={() => ondecide(false, null)}>No</Button>
    {#if fault}<span class="text-broke" role="alert">{fault}</span>{/if}
  </div>
</div>
