<script lang="ts">
  /* A server's recordings: made, browsed, cut, edited, merged, held against the live server. */
  import { counted } from "../values/text";
  import { address } from "../address.svelte";
  import { api, ask, type Server } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import DriftPanel from "./DriftPanel.svelte";
  import RecordingPages from "./RecordingPages.svelte";
  import RelayPanel from "./RelayPanel.svelte";
  import Fault from "../kit/Fault.svelte";
  import { byArrows } from "../kit/arrows";
  import Button from "../kit/Button.svelte";

  let { server, onchanged }: { server: Server; onchanged: () => void } = $props();

  const reading = new Resource(() => {
    const params = { path: { server: server.server } };
    return ask(api.GET("/api/servers/{server}/recordings", { params }));
  });
  const lines = $derived(reading.value?.recordings ?? null);
  let drifting = $state(false);
  const chosen = $derived(address.query.get("recording"));
  const line = $derived(lines?.find((l) => l.file === chosen) ?? null);

  function kept(file: string) {
    void reading.read();
    address.mark("recording", file);
    onchanged();
  }
</script>

<div class="flex flex-col flex-1 min-h-0 overflow-auto">
  <RelayPanel {server} onkept={kept} />
  <Fault message={reading.fault} />
  <div class="grid flex-1 grid-cols-[240px_minmax(0,1fr)] min-h-65 max-md:block">
    <ul use:byArrows={"button"} class="pt-1.5 pb-2.5 pr-2.5 overflow-auto" data-testid="recordings">
      {#each lines ?? [] as l (l.file)}
        <li>
          <Button
            kind="row"
            class="grid"
            aria-pressed={l.file === chosen}
            onclick={() => {
              drifting = false;
              address.mark("recording", l.file);
            }}
          >
            <b>{l.file.split("/").at(-1)?.replace(".jsonl", "")}</b>
            {#if l.used}<span class="text-sm text-holds">in use</span>{/if}
            <span class="soft">
              {l.captured ? `captured in ${l.file.split("/").at(-2)}` : l.captured_at}
            </span>
            {#if l.problem}
              <span class="text-broke">{l.problem}</span>
            {:else}
              <span class="soft">{counted(l.calls, "call")}, {counted(l.messages, "message")}</span>
            {/if}
          </Button>
        </li>
      {:else}
        <li class="soft p-2">{lines ? "No recording yet." : "Reading…"}</li>
      {/each}
    </ul>
    <div class="pt-1.5 pb-3.5 pl-3.5 border-l border-l-line overflow-auto">
      {#if line && !line.problem}
        {#if drifting}
          <Button onclick={() => (drifting = false)}>Back to its calls</Button>
          {#key line.file}<DriftPanel {server} file={line.file} />{/key}
        {:else}
          {#key line.file}
            <RecordingPages
              {server}
              file={line.file}
              captured={line.captured}
              others={(lines ?? []).filter((l) => l.file !== line.file && !l.problem)}
              onkept={kept}
              ondrift={() => (drifting = true)}
            />
          {/key}
        {/if}
      {:else}
        <p class="soft">Choose a recording to browse it.</p>
      {/if}
    </div>
  </div>
</div>
