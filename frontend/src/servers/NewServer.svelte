<script lang="ts">
  /* Bringing a server in: pasted words, a mock in a few words, or an OpenAPI document. */
  import { address } from "../address.svelte";
  import { api, ask, type Pasted } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";

  let { onmade }: { onmade: () => Promise<void> } = $props();

  let way = $state<"paste" | "words" | "openapi">("paste");
  let text = $state("");
  let found = $state<Pasted[]>([]);
  let notes = $state<string[]>([]);
  let fault = $state("");
  let server = $state("");
  let tool = $state("");
  let description = $state("");
  let args = $state("");
  let answer = $state("");
  let openapi = $state("");

  async function doing(work: () => Promise<void>) {
    fault = "";
    try {
      await work();
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  const look = () =>
    doing(async () => {
      found = [];
      found = (await ask(api.POST("/api/pasted", { body: { text } }))).servers;
    });

  async function write(name: string, words: string) {
    await ask(api.PUT("/api/file", { body: { name, text: words, stamp: null } }));
    await onmade();
    const made = name.replace(/^servers\//, "").replace(/\.yaml$/, "");
    address.go(`/servers/${encodeURIComponent(made)}`);
  }

  const take = (one: Pasted) => doing(() => write(one.file, one.text));
  const make = () =>
    doing(async () => {
      const words = { tool, description, arguments: args, answer };
      const body =
        way === "openapi"
          ? { server, openapi, tool: "", description: "", arguments: "", answer: "" }
          : { server, openapi: null, ...words };
      const made = await ask(api.POST("/api/mocks", { body }));
      notes = made.notes;
      await write(made.name, made.text);
    });
</script>

<div class="new" data-testid="new-server">
  <div class="tabs" role="group" aria-label="How to bring a server in">
    <Button kind="way" aria-pressed={way === "paste"} onclick={() => (way = "paste")}>Paste</Button>
    <Button kind="way" aria-pressed={way === "words"} onclick={() => (way = "words")}
      >Mock in a few words</Button
    >
    <Button kind="way" aria-pressed={way === "openapi"} onclick={() => (way = "openapi")}
      >Mock from OpenAPI</Button
    >
  </div>
  {#if way === "paste"}
    <p class="soft">
      Whatever its documentation gives: a launch line with its variables, an address, or a client's
      configuration block with one server or several.
    </p>
    <div class={{ two: found.length > 0 }}>
      <div>
        <TextArea
          class="mono"
          rows={14}
          aria-label="Pasted words"
          placeholder="REGISTER_KEY=… python -m harbour_register --port-of skerrow"
          bind:value={text}
          spellcheck="false"
        />
        <Button kind="go" onclick={look} disabled={!text.trim()}>Find the server</Button>
      </div>
      <div>
        {#each found as one (one.file)}
          <section class="found">
            <h3>{one.name} <span class="soft mono">{one.file}</span></h3>
            <pre class="mono">{one.text}</pre>
            {#each one.notes as note, i (i)}<p class="doubt">{note}</p>{/each}
            <Button kind="go" onclick={() => take(one)}>Write this file and reach it</Button>
          </section>
        {/each}
      </div>
    </div>
  {:else}
    <form
      onsubmit={(e) => {
        e.preventDefault();
        void make();
      }}
    >
      <label
        >Server <Field
          wide
          bind:value={server}
          required
          pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
          placeholder="pilots"
        /></label
      >
      {#if way === "words"}
        <label>Tool <Field wide bind:value={tool} required placeholder="pilot_roster" /></label>
        <label
          >What it does <Field
            wide
            bind:value={description}
            placeholder="Who is on duty on one day."
          /></label
        >
        <label>Arguments <Field wide bind:value={args} placeholder="day: date, area?" /></label>
        <label
          >One answer <TextArea
            class="mono"
            rows={4}
            bind:value={answer}
            placeholder={'{"pilots": [{"name": "Ines Calder", "on": "06:00"}]}'}
          /></label
        >
        <p class="soft">
          An argument is NAME, NAME: TYPE, or NAME? if it may be left out. The answer is JSON or
          words; it may hold expressions such as <span class="mono">{"{{ args.day }}"}</span>.
        </p>
      {:else}
        <label
          >Document <TextArea
            class="mono"
            rows={14}
            bind:value={openapi}
            required
            placeholder="An OpenAPI 3 document, JSON or YAML: its operations become tools, its examples answers."
          /></label
        >
      {/if}
      <Button type="submit" kind="go">Make the mock and try it</Button>
    </form>
  {/if}
  {#each notes as note, i (i)}<p class="doubt">{note}</p>{/each}
  {#if fault}<p class="text-broke" role="alert">{fault}</p>{/if}
</div>

<style>
  .new {
    padding: 12px 18px 24px;
    max-width: 760px;
    overflow: auto;
  }
  .new:has(.two) {
    max-width: none;
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 24px;
  }
  .tabs {
    display: flex;
    gap: 12px;
    border-bottom: 1px solid var(--line);
    padding-bottom: 6px;
  }
  p {
    margin: 8px 0;
  }
  label {
    display: grid;
    grid-template-columns: 110px minmax(0, 1fr);
    gap: 10px;
    align-items: start;
    font-size: 12.5px;
    padding: 3px 0;
  }
  .found {
    border-left: 3px solid var(--line);
    padding-left: 12px;
    margin-bottom: 18px;
  }
  h3 {
    font-size: 14px;
    font-weight: 600;
    margin: 0 0 4px;
  }
  pre {
    margin: 0 0 6px;
    padding: 6px 10px;
    background: var(--raised);
    border: 1px solid var(--line);
    border-radius: 4px;
    font-size: 12.5px;
    overflow-x: auto;
  }
  .doubt {
    color: var(--doubt);
    margin: 2px 0 6px;
    font-size: 12.5px;
  }
</style>
