<script lang="ts">
  import type { Snippet } from "svelte";

  interface Props {
    tone?: "still" | "broke";
    title: string;
    children?: Snippet;
  }
  let { tone = "still", title, children }: Props = $props();
</script>

<section class={["notice", tone]} role={tone === "broke" ? "alert" : "status"}>
  <h2>{title}</h2>
  {#if children}<div class="soft">{@render children()}</div>{/if}
</section>

<style>
  .notice {
    max-width: 640px;
    margin: 72px auto;
    padding: 4px 0 4px 18px;
    border-left: 3px solid var(--line);
  }
  .broke {
    border-left-color: var(--broke);
  }
  h2 {
    font-size: 17px;
    font-weight: 600;
    margin: 0 0 6px;
  }
</style>
