<script lang="ts">
  import type { Snippet } from "svelte";

  interface Props {
    tone?: "still" | "broke";
    title: string;
    children?: Snippet;
  }
  let { tone = "still", title, children }: Props = $props();
</script>

<section
  data-testid="notice"
  class={["max-w-160 my-18 mx-auto py-1 pl-4.5 border-l-3 border-l-line", tone]}
  role={tone === "broke" ? "alert" : "status"}
>
  <h2 class="mt-0 mb-1.5 text-lg">{title}</h2>
  {#if children}<div class="soft">{@render children()}</div>{/if}
</section>

<style>
  .broke {
    border-left-color: var(--broke);
  }
</style>
