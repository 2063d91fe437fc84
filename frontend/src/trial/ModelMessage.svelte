<script lang="ts">
  /* One message to or from a model: its role, its words, and the calls it proposes. */
  import type { Json } from "../values/json";
  import Content from "../values/Content.svelte";
  import Value from "../values/Value.svelte";
  import Button from "../kit/Button.svelte";
  import { grouped } from "../values/text";

  let { body }: { body: Json } = $props();
  const LONG = 900;

  interface Call {
    function?: { name?: string; arguments?: string };
  }
  const message = $derived(
    (typeof body === "object" && body !== null ? body : { content: body }) as {
      role?: string;
      content?: Json;
      tool_calls?: Call[];
      name?: string;
    },
  );
  const parts = $derived.by((): Record<string, Json>[] => {
    const content = message.content;
    if (typeof content === "string") return [{ type: "text", text: content }];
    if (!Array.isArray(content)) return [];
    return content.map((part) =>
      typeof part === "object" && part !== null && !Array.isArray(part)
        ? part
        : { type: "text", text: String(part) },
    );
  });
  const words = $derived(
    parts.every((p) => typeof p["text"] === "string")
      ? parts.map((p) => p["text"]).join("\n")
      : null,
  );
  let whole = $state(false);

  /** A call's arguments, if they are JSON. */
  function read(text: string | undefined): Json {
    try {
      return JSON.parse(text ?? "{}") as Json;
    } catch {
      return text ?? "";
    }
  }
  const structured = $derived.by((): Json | undefined => {
    if (words === null || !/^\s*[[{]/.test(words)) return undefined;
    try {
      return JSON.parse(words) as Json;
    } catch {
      return undefined;
    }
  });
</script>

<div class="grid gap-2 grid-cols-[66px_minmax(0,1fr)] text-sm">
  <span class="wrap-anywhere text-soft"
    >{message.role ?? "assistant"}{message.name ? ` ${message.name}` : ""}</span
  >
  <div class="pl-2 border-l-2 border-l-faint wrap-anywhere">
    {#if structured !== undefined}
      <Value value={structured} />
    {:else if words !== null}
      <p class="whitespace-pre-wrap">
        {whole || words.length <= LONG ? words : `${words.slice(0, LONG)}…`}
      </p>
      {#if words.length > LONG && !whole}
        <Button kind="link" onclick={() => (whole = true)}
          >all {grouped(words.length)} characters</Button
        >
      {/if}
    {:else}
      {#each parts as part, i (i)}<Content block={part} />{/each}
    {/if}
    {#each message.tool_calls ?? [] as call, i (i)}
      <div class="mt-0.5">
        <span class="soft">proposes</span> <b>{call.function?.name}</b>
        <Value value={read(call.function?.arguments)} depth={1} />
      </div>
    {/each}
  </div>
</div>
