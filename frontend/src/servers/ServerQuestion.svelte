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
    /** Where it sends the user, in place of a form. */
    url?: string | null;
    onanswer: (action: "accept" | "decline" | "cancel", content: Record<string, Json>) => void;
  }
  let { message, wants, url = null, onanswer }: Props = $props();

  let content = $state.raw<Record<string, Json>>(
    untrack(() => (initial(wants, wants) ?? {}) as Record<string, Json>),
  );
</script>

<div
  class="my-2 pt-1.5 pb-2.5 px-3 border-l-3 border-l-doubt bg-doubt-wash"
  role="alertdialog"
  tabindex="-1"
  aria-label="The server asks"
  data-testid="asked"
>
  <p class="mt-0.5 mb-1.5"><b>The server asks:</b> {message}</p>
  <form
    onsubmit={(e) => {
      e.preventDefault();
      onanswer("accept", content);
    }}
  >
    {#if url}
      <p class="my-1 wrap-anywhere">
        It sends you to <span class="mono">{url}</span>; Ferox opens no address by itself.
      </p>
    {:else}
      <SchemaForm schema={wants} args={content} raw={false} onset={(next) => (content = next)} />
    {/if}
    <div class="flex gap-2.5 mt-1.5">
      <Button type="submit" kind="go">{url ? "Agree" : "Answer"}</Button>
      <Button onclick={() => onanswer("decline", {})}>Decline</Button>
      <Button onclick={() => onanswer("cancel", {})}>Leave unanswered</Button>
    </div>
  </form>
</div>
