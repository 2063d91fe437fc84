<script lang="ts">
  /* A question of the server's in the middle of a call, answered in a form. */
  import { untrack } from "svelte";
  import type { Json } from "../values/json";
  import SchemaForm from "./SchemaForm.svelte";
  import { initial, type Schema } from "./schema";
  import Button from "../kit/Button.svelte";

  interface Props {
    message: string;
    wants: Schema;
    onanswer: (action: "accept" | "decline" | "cancel", content: Record<string, Json>) => void;
  }
  let { message, wants, onanswer }: Props = $props();

  let content = $state.raw<Record<string, Json>>(
    untrack(() => (initial(wants, wants) ?? {}) as Record<string, Json>),
  );
</script>

<div
  class="asked"
  role="alertdialog"
  tabindex="-1"
  aria-label="The server asks"
  data-testid="asked"
>
  <p><b>The server asks:</b> {message}</p>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      onanswer("accept", content);
    }}
  >
    <SchemaForm schema={wants} args={content} raw={false} onset={(next) => (content = next)} />
    <div class="end">
      <Button type="submit" kind="go">Answer</Button>
      <Button onclick={() => onanswer("decline", {})}>Decline</Button>
      <Button onclick={() => onanswer("cancel", {})}>Leave unanswered</Button>
    </div>
  </form>
</div>

<style>
  .asked {
    border-left: 3px solid var(--doubt);
    background: var(--doubt-wash);
    padding: 6px 12px 10px;
    margin: 8px 0;
  }
  p {
    margin: 2px 0 6px;
  }
  .end {
    display: flex;
    gap: 10px;
    margin-top: 6px;
  }
</style>
