<script lang="ts">
  /* What was just done, with the way back. */
  import { Action } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import { undo } from "./undo.svelte";

  const act = new Action();
</script>

{#if undo.message || act.fault}
  <div
    class="flex items-center gap-3 border-t border-t-line bg-raised px-4.5 py-1.5"
    role="status"
    data-testid="undo"
  >
    <span class={["wrap-anywhere", act.fault && "text-broke"]}>{act.fault || undo.message}</span>
    {#if undo.message}
      <Button onclick={() => act.run(() => undo.take())} disabled={act.busy}>Undo</Button>
    {/if}
    <Button kind="link" onclick={() => (undo.dismiss(), (act.fault = ""))}>Dismiss</Button>
  </div>
{/if}
