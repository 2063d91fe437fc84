<script lang="ts">
  /* How an agent is connected, by link and framework: files to copy, or to write at once. */
  import { Typed } from "../editor/typed.svelte";
  import { untrack } from "svelte";
  import { address } from "../address.svelte";
  import { api, ask, type Connection } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import { byArrows } from "../kit/arrows";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Sentence from "../values/Sentence.svelte";

  let { onmade }: { onmade: () => Promise<void> } = $props();

  let connections = $state.raw<Connection[]>([]);
  const typed = new Typed("new agent", { chosen: "langgraph", agent: "my-desk" });
  const chosen = $derived(typed.fields.chosen);
  const agent = $derived(typed.fields.agent);
  let models = $state.raw<string[]>([]);
  let model = $state("");
  const act = new Action();
  let copied = $state("");
  const one = $derived(connections.find((c) => c.name === chosen) ?? connections[0] ?? null);

  async function read() {
    const query = { agent: agent || "my-desk", model };
    connections = (await ask(api.GET("/api/connections", { params: { query } }))).connections;
  }

  $effect(() => {
    void untrack(() =>
      act.run(async () => {
        models = (await ask(api.GET("/api/workspace"))).models ?? [];
        model = models[0] ?? "";
        await read();
      }),
    );
  });

  async function copy(text: string, what: string) {
    await navigator.clipboard.writeText(text);
    copied = what;
    setTimeout(() => (copied = ""), 2000);
  }

  function write() {
    return act.run(async () => {
      if (!one) return;
      await ask(api.POST("/api/agents", { body: { files: one.files } }));
      const made = agent;
      typed.clear();
      await onmade();
      address.go(`/agents/${made}?view=probe`);
    });
  }
</script>

<div class="grid flex-1 gap-4.5 grid-cols-[300px_minmax(0,1fr)] min-h-0 max-md:block">
  <ul use:byArrows={"button"} class="overflow-auto" aria-label="Ways to connect">
    {#each connections as way (way.name)}
      <li>
        <Button
          kind="row"
          aria-pressed={way.name === one?.name}
          onclick={() => (typed.fields.chosen = way.name)}
        >
          {way.title} <span class="soft">{way.link}</span>
        </Button>
      </li>
    {/each}
  </ul>
  <div class="pb-4 overflow-auto text-sm">
    <p class="flex items-center gap-3.5 max-w-180 mb-2">
      <label>Name <Field bind:value={typed.fields.agent} onchange={read} class="mono" /></label>
      <label>
        Model
        <Choice bind:value={model} onchange={read}>
          {#each models as name (name)}<option value={name}>{name}</option>{/each}
          <option value="">it thinks elsewhere (not seen)</option>
        </Choice>
      </label>
      <Button kind="go" onclick={write} disabled={!one} data-testid="write"
        >Write these files</Button
      >
      <span class="soft" aria-live="polite">{copied ? `Copied ${copied}.` : ""}</span>
    </p>
    <Fault message={act.fault} class="max-w-180 mb-2" />
    {#if one}
      <p class="max-w-180 mb-2"><Sentence words={one.particular} /></p>
      {#if one.needs}
        <p class="max-w-180 mb-2">
          <span class="soft">Its environment needs</span> <span class="mono">{one.needs}</span>
        </p>
      {/if}
      {#each one.files as file (file.name)}
        <h2 class="flex items-center gap-2.5 mt-2.5">
          {file.name}
          <Button onclick={() => copy(file.text, file.name)}>Copy</Button>
        </h2>
        <pre
          class="mono py-2 px-2.5 border border-line bg-sheet overflow-auto leading-[1.45]">{file.text}</pre>
      {/each}
      {#if one.standing.length}
        <h2 class="flex items-center gap-2.5 mt-2.5">
          Standing addresses, to give the service once
        </h2>
        <dl>
          {#each one.standing as place (place.name)}
            <dt>{place.name}</dt>
            <dd class="mono">{place.url}</dd>
          {/each}
        </dl>
      {/if}
    {/if}
  </div>
</div>
