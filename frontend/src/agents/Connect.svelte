<script lang="ts">
  /* How an agent is connected, by link and framework: files to copy, or to write at once. */
  import { untrack } from "svelte";
  import { address } from "../address.svelte";
  import { api, ask, type Connection } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";

  let { onmade }: { onmade: () => Promise<void> } = $props();

  let connections = $state.raw<Connection[]>([]);
  let chosen = $state("langgraph");
  let agent = $state("my-desk");
  let models = $state.raw<string[]>([]);
  let model = $state("");
  let fault = $state("");
  let copied = $state("");
  const one = $derived(connections.find((c) => c.name === chosen) ?? connections[0] ?? null);

  async function read() {
    try {
      const query = { agent: agent || "my-desk", model: model || "steady" };
      connections = (await ask(api.GET("/api/connections", { params: { query } }))).connections;
      fault = "";
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  $effect(() => {
    void untrack(async () => {
      try {
        models = (await ask(api.GET("/api/workspace"))).models ?? [];
        model = models[0] ?? "";
      } catch {
        // The list of connections tells what is wrong.
      }
      await read();
    });
  });

  async function copy(text: string, what: string) {
    await navigator.clipboard.writeText(text);
    copied = what;
    setTimeout(() => (copied = ""), 2000);
  }

  async function write() {
    if (!one) return;
    try {
      await ask(api.POST("/api/agents", { body: { files: one.files } }));
      await onmade();
      address.go(`/agents/${agent}?view=probe`);
    } catch (error) {
      fault = (error as Error).message;
    }
  }
</script>

<div class="connect">
  <ul aria-label="Ways to connect">
    {#each connections as way (way.name)}
      <li>
        <Button
          kind="row"
          aria-pressed={way.name === one?.name}
          onclick={() => (chosen = way.name)}
        >
          {way.title} <span class="soft">{way.link}</span>
        </Button>
      </li>
    {/each}
  </ul>
  <div class="files">
    <p class="row">
      <label>Name <Field bind:value={agent} onchange={read} class="mono" /></label>
      <label>
        Model
        <Choice bind:value={model} onchange={read}>
          {#each models as name (name)}<option value={name}>{name}</option>{/each}
        </Choice>
      </label>
      <Button kind="go" onclick={write} disabled={!one} data-testid="write"
        >Write these files</Button
      >
      <span class="soft" aria-live="polite">{copied ? `Copied ${copied}.` : ""}</span>
    </p>
    {#if fault}<p class="text-broke" role="alert">{fault}</p>{/if}
    {#if one}
      <p>{one.particular}</p>
      {#if one.needs}
        <p>
          <span class="soft">Its environment needs</span> <span class="mono">{one.needs}</span>
        </p>
      {/if}
      {#each one.files as file (file.name)}
        <h2>
          {file.name}
          <Button onclick={() => copy(file.text, file.name)}>Copy</Button>
        </h2>
        <pre class="mono">{file.text}</pre>
      {/each}
      {#if one.standing.length}
        <h2>Standing addresses, to give the service once</h2>
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

<style>
  .connect {
    display: grid;
    grid-template-columns: 300px minmax(0, 1fr);
    gap: 18px;
    min-height: 0;
    flex: 1;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
    overflow: auto;
  }
  .files {
    overflow: auto;
    padding-bottom: 16px;
    font-size: 12.5px;
  }
  .row {
    display: flex;
    align-items: center;
    gap: 14px;
  }
  p {
    margin: 0 0 8px;
    max-width: 720px;
  }
  h2 {
    font-size: 12.5px;
    font-weight: 600;
    margin: 10px 0 4px;
    display: flex;
    gap: 10px;
    align-items: center;
  }
  pre {
    background: var(--sheet);
    border: 1px solid var(--line);
    padding: 8px 10px;
    margin: 0;
    overflow: auto;
    line-height: 1.45;
  }
  dl {
    display: grid;
    grid-template-columns: auto minmax(0, 1fr);
    gap: 2px 12px;
    margin: 0;
  }
  dd {
    margin: 0;
  }
  dt {
    color: var(--soft);
  }
</style>
