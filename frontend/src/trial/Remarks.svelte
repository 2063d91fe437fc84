<script lang="ts">
  /* What is worth knowing besides the checks: what the agent's framework did. Not scored. */
  import type { Remark } from "../api/client";

  let { remarks }: { remarks: Remark[] } = $props();
</script>

{#if remarks.length}
  <h3>
    worth knowing <span class="soft ml-1.5 font-normal">not scored</span>
  </h3>
  <ul class="pl-4 text-sm list-disc" data-testid="remarks">
    {#each remarks as remark, i (i)}<li>{remark.text}</li>{/each}
  </ul>
{/if}
