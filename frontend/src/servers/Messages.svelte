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

<ul data-testid="messages">
  {#each messages as message, i (i)}
    <li>
      <details>
        <summary>
          <span class="way" title={message.dir === "to_server" ? "to the server" : "to the client"}
            >{message.dir === "to_server" ? "→" : "←"}</span
          >
          <span class={{ "text-broke": message.msg["error"] !== undefined }}
            >{title(message.msg)}</span
          >
          <span class="soft">
            {message.msg["id"] === undefined ? "" : `id ${String(message.msg["id"])}`}
          </span>
          <span class="soft time">{duration((message.t - start) * 1000)}</span>
        </summary>
        <pre class="mono">{JSON.stringify(message.msg, null, 1)}</pre>
      </details>
    </li>
  {:else}
    <li class="soft">No message yet.</li>
  {/each}
</ul>

<style>
  ul {
    list-style: none;
    margin: 4px 0;
    padding: 0;
    font-size: 12.5px;
  }
  summary {
    min-height: 24px;
    display: flex;
    gap: 8px;
    cursor: pointer;
    padding: 1px 0;
  }
  .way {
    width: 14px;
  }
  .time {
    margin-left: auto;
  }
  pre {
    margin: 2px 0 6px 22px;
    max-height: 320px;
    overflow: auto;
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    font-size: 12.5px;
  }
</style>
