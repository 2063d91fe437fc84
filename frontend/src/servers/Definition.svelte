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

<p class="mt-0.5 mb-1 text-sm">
  {#if said.length}It says of itself: {said.join(", ")}.{:else}<span class="soft"
      >It does not say whether it writes.</span
    >{/if}
</p>
<details>
  <summary class="soft mb-1 text-sm cursor-pointer">its schemas as the server gives them</summary>
  <div class="grid gap-3 grid-cols-[1fr_1fr]">
    <div>
      <h4 class="my-0.5 text-ink">arguments</h4>
      <pre class="mono max-h-65 overflow-auto text-xs">{JSON.stringify(
          tool["inputSchema"] ?? null,
          null,
          1,
        )}</pre>
    </div>
    <div>
      <h4 class="my-0.5 text-ink">result</h4>
      <pre class="mono max-h-65 overflow-auto text-xs">{tool["outputSchema"]
          ? JSON.stringify(tool["outputSchema"], null, 1)
          : "none declared"}</pre>
    </div>
  </div>
</details>
