<script lang="ts">
  /* An approval that the agent asks for, with arguments that may be edited first. */
  import { untrack } from "svelte";

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
  <textarea
    class="mono"
    rows={Math.min(10, text.split("\n").length)}
    bind:value={text}
    aria-label="Arguments"
    spellcheck="false"></textarea>
  <div class="end">
    <button class="go-button" onclick={approve}
      >{text === given ? "Yes" : "Yes, with these arguments"}</button
    >
    <button class="plain-button" onclick={() => ondecide(false, null)}>No</button>
    {#if fault}<span class="broke" role="alert">{fault}</span>{/if}
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
  textarea {
    width: 100%;
    border: 1px solid var(--line);
    border-radius: 3px;
    background: var(--raised);
    color: var(--ink);
    padding: 4px 6px;
    font-size: 12px;
  }
  .end {
    display: flex;
    gap: 8px;
    align-items: center;
    margin-top: 4px;
  }
  .broke {
    color: var(--broke);
  }
</style>
