<script lang="ts">
  /* The rest of a tool's definition: hints and schemas, folded. */
  import type { ToolDetail } from "../api/client";

  let { tool }: { tool: ToolDetail["definition"] } = $props();

  const hints = $derived(tool["annotations"] as Record<string, unknown> | null | undefined);
  const words: Record<string, [string, string]> = {
    readOnlyHint: ["only reads", "may write"],
    destructiveHint: ["may destroy", "destroys nothing"],
    idempotentHint: ["the same again changes nothing", "each call counts"],
    openWorldHint: ["reaches outside", "stays inside"],
  };
  const said = $derived(
    Object.entries(hints ?? {}).flatMap(([key, value]) => {
      const pair = words[key];
      return pair && typeof value === "boolean" ? [value ? pair[0] : pair[1]] : [];
    }),
  );
</script>

<p class="hints">
  {#if said.length}It says of itself: {said.join(", ")}.{:else}<span class="soft"
      >It does not say whether it writes.</span
    >{/if}
</p>
<details>
  <summary class="soft">its schemas as the server gives them</summary>
  <div class="schemas">
    <div>
      <h4>arguments</h4>
      <pre class="mono">{JSON.stringify(tool["inputSchema"] ?? null, null, 1)}</pre>
    </div>
    <div>
      <h4>result</h4>
      <pre class="mono">{tool["outputSchema"]
          ? JSON.stringify(tool["outputSchema"], null, 1)
          : "none declared"}</pre>
    </div>
  </div>
</details>

<style>
  .hints {
    margin: 2px 0 4px;
    font-size: 12.5px;
  }
  summary {
    cursor: pointer;
    font-size: 12.5px;
    margin-bottom: 4px;
  }
  .schemas {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 12px;
  }
  h4 {
    font-size: 12.5px;
    font-weight: 500;
    margin: 2px 0;
  }
  pre {
    font-size: 11px;
    max-height: 260px;
    overflow: auto;
    margin: 0;
  }
</style>
