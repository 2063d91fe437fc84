<script lang="ts">
  /* Raw messages of the protocol, both ways, each opened by a click. */
  import type { Json } from "../values/json";
  import { duration } from "../values/text";

  interface Message {
    t: number;
    dir: string;
    msg: Record<string, Json>;
  }
  let { messages }: { messages: Message[] } = $props();
  const start = $derived(messages[0]?.t ?? 0);

  function title(msg: Record<string, Json>): string {
    if (typeof msg["method"] === "string") {
      const params = msg["params"] as { name?: string; uri?: string } | undefined;
      return [msg["method"], params?.name ?? params?.uri].filter(Boolean).join(" ");
    }
    return msg["error"] === undefined ? "result" : "error";
  }
</script>

<ul class="my-1 text-sm" data-testid="messages">
  {#each messages as message, i (i)}
    <li>
      <details>
        <summary class="flex gap-2 min-h-6 py-px cursor-pointer">
          <span
            class="w-3.5"
            title={message.dir === "to_server" ? "to the server" : "to the client"}
            >{message.dir === "to_server" ? "→" : "←"}</span
          >
          <span class={{ "text-broke": message.msg["error"] !== undefined }}
            >{title(message.msg)}</span
          >
          <span class="soft">
            {message.msg["id"] === undefined ? "" : `id ${String(message.msg["id"])}`}
          </span>
          <span class="soft ml-auto">{duration((message.t - start) * 1000)}</span>
        </summary>
        <pre
          class="mono max-h-80 mt-0.5 mb-1.5 ml-5.5 overflow-auto whitespace-pre-wrap wrap-anywhere text-sm">{JSON.stringify(
            message.msg,
            null,
            1,
          )}</pre>
      </details>
    </li>
  {:else}
    <li class="soft">No message yet.</li>
  {/each}
</ul>
