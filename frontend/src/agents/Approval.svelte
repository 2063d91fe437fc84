<script lang="ts">
  /* An approval that the agent asks for, with arguments that may be edited first. */
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
      fault = `These are not arguments: ${(error as Error).message}`;
    }
  }
</script>

<div class="asks" role="group" aria-label="The agent asks" data-testid="approval">
  <p><b>May it call {tool}?</b></p>
  <TextArea
    class="mono"
    rows={Math.min(10, text.split("\n").length)}
    bind:value={text}
    aria-label="Arguments"
    spellcheck="false"
  />
  <div class="end">
    <Button kind="go" onclick={approve}
      >{text === given ? "Yes" : "Yes, with these arguments"}</Button
    >
    <Button onclick={() => ondecide(false, null)}>No</Button>
    {#if fault}<span class="text-broke" role="alert">{fault}</span>{/if}
  </div>
</div>

<style>
  .asks {
    border-left: 3px solid var(--doubt);
    background: var(--doubt-wash);
    padding: 6px 12px 8px;
    margin: 6px 0;
  }
  p {
    margin: 0 0 4px;
  }
  .end {
    display: flex;
    gap: 8px;
    align-items: center;
    margin-top: 4px;
  }
</style>
