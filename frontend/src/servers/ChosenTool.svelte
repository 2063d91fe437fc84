<script lang="ts">
  /* A tool's whole definition, read when it is chosen: a list holds only its first words. */
  import Fault from "../kit/Fault.svelte";
  import { messageOf } from "../api/resource.svelte";
  import { api, ask, type Server } from "../api/client";
  import ToolPanel from "./ToolPanel.svelte";

  interface Props {
    server: Server;
    name: string;
    onchanged: () => void;
  }
  let { server, name, onchanged }: Props = $props();

  const reading = $derived(
    ask(
      api.GET("/api/servers/{server}/tool", {
        params: { path: { server: server.server }, query: { mode: server.mode, tool: name } },
      }),
    ),
  );
</script>

{#await reading}
  <p class="soft" aria-live="polite">Reading {name}…</p>
{:then tool}
  <ToolPanel {server} {tool} {onchanged} />
{:catch fault}
  <Fault message={messageOf(fault)} />
{/await}
