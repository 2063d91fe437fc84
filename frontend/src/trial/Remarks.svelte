<script lang="ts">
  /* What is worth knowing besides the checks: what the agent's framework did. Not scored. */
  import type { Remark } from "../api/client";

  let { remarks }: { remarks: Remark[] } = $props();
</script>

{#if remarks.length}
  <h3>worth knowing <span class="soft">not scored</span></h3>
  <ul data-testid="remarks">
    {#each remarks as remark, i (i)}<li>{remark.text}</li>{/each}
  </ul>
{/if}

<style>
  h3 {
    font-size: 12.5px;
    font-weight: 600;
    margin: 12px 0 2px;
  }
  h3 .soft {
    font-weight: 400;
    margin-left: 6px;
  }
  ul {
    margin: 0;
    padding-left: 16px;
    list-style: disc;
    font-size: 12.5px;
  }
</style>
