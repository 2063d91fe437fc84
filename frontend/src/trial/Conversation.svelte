<script lang="ts">
  import type { TrialView } from "../api/trace";
  import { duration, shortTool } from "../values/told";

  interface Props {
    view: TrialView;
    chosen: string | null;
    onchoose: (id: string) => void;
  }
  let { view, chosen, onchoose }: Props = $props();

  const role = $derived.by(() => {
    const told: Record<string, string> = {};
    for (const id of view.result?.extra ?? []) told[id] = "extra";
    for (const [name, ids] of Object.entries(view.result?.attempts ?? {}))
      for (const id of ids) told[id] = `attempt at ${name}`;
    for (const [name, ids] of Object.entries(view.result?.matched ?? {}))
      for (const id of ids) told[id] = name;
    return told;
  });
  const ending = $derived(view.trace.events.find((e) => e.kind === "end"));
</script>

<ol class="conversation">
  {#each view.trace.events as event, i (i)}
    {#if event.kind === "turn"}
      <li class="user"><span class="who">user</span>{event.text}</li>
    {:else if event.kind === "reply"}
      <li class="agent"><span class="who">agent</span>{event.text || "(said nothing)"}</li>
    {:else if event.kind === "model" && event.text && event.proposed?.length}
      <li class="thought soft">{event.text}</li>
    {:else if event.kind === "ask"}
      <li class="step soft">asked to call {event.tool}: {event.decision}</li>
    {:else if event.kind === "call"}
      <li class="step">
        <button
          class={{ chosen: chosen === event.id }}
          onclick={() => event.id && onchoose(event.id)}
        >
          <span class="tool">{shortTool(event.tool ?? "")}</span>
          <span class="came">
            {#if event.error}
              <span class="broke">{event.error.message}</span>
            {:else}
              <span class="soft">{JSON.stringify(event.args)}</span>
            {/if}
          </span>
          <span class="soft role">{role[event.id ?? ""] ?? ""}</span>
          <span class="soft time">{event.s == null ? "…" : duration(event.s * 1000)}</span>
        </button>
      </li>
    {/if}
  {/each}
  {#if ending && ending.why !== "done"}
    <li class="ending">
      Ended: {ending.why?.replaceAll("_", " ")}{ending.reason ? `. ${ending.reason}` : ""}
    </li>
  {/if}
</ol>

<style>
  .conversation {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    margin: 0 0 5px;
    overflow-wrap: anywhere;
  }
  .who {
    display: inline-block;
    width: 46px;
    text-indent: 0;
    color: var(--soft);
    font-size: 12px;
  }
  .user,
  .agent {
    padding: 4px 0 4px 46px;
    text-indent: -46px;
    white-space: pre-wrap;
  }
  .user {
    border-top: 1px solid var(--line);
    margin-top: 6px;
  }
  .user:first-child {
    border-top: 0;
    margin-top: 0;
  }
  .agent {
    font-weight: 550;
  }
  .step,
  .thought {
    padding-left: 46px;
  }
  button {
    display: grid;
    grid-template-columns: auto 1fr auto 58px;
    gap: 8px;
    width: 100%;
    background: none;
    border: 0;
    border-left: 2px solid var(--line);
    padding: 1px 0 1px 8px;
    color: inherit;
    text-align: left;
    cursor: pointer;
  }
  button:hover,
  .chosen {
    background: var(--raised);
    border-left-color: var(--iron);
  }
  .tool {
    font-weight: 550;
  }
  .came {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .broke,
  .ending {
    color: var(--broke);
  }
  .time {
    text-align: right;
  }
  .ending {
    padding-top: 6px;
  }
</style>
