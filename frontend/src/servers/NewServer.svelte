<script lang="ts">
  /* Bringing a server in: pasted words, a mock in a few words, or an OpenAPI document. */
  import { Typed } from "../editor/typed.svelte";
  import { address } from "../address.svelte";
  import { api, ask, type Pasted } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";

  let { onmade }: { onmade: () => Promise<void> } = $props();

  // Pasted words may hold a key.
  const typed = new Typed(
    "new server",
    {
      way: "paste" as "paste" | "words" | "openapi",
      text: "",
      server: "",
      tool: "",
      description: "",
      args: "",
      answer: "",
      openapi: "",
    },
    { secret: true },
  );
  const fields = $derived(typed.fields);
  let found = $state<Pasted[]>([]);
  let notes = $state<string[]>([]);
  const act = new Action();

  const look = () =>
    act.run(async () => {
      found = [];
      found = (await ask(api.POST("/api/pasted", { body: { text: fields.text } }))).servers;
    });

  async function write(name: string, words: string) {
    await ask(api.PUT("/api/file", { body: { name, text: words, stamp: null } }));
    typed.clear();
    await onmade();
    const made = name.replace(/^servers\//, "").replace(/\.yaml$/, "");
    address.go(`/servers/${encodeURIComponent(made)}`);
  }

  const take = (one: Pasted) => act.run(() => write(one.file, one.text));
  const make = () =>
    act.run(async () => {
      const { server, tool, description, args, answer, openapi } = fields;
      const words = { tool, description, arguments: args, answer };
      const body =
        fields.way === "openapi"
          ? { server, openapi, tool: "", description: "", arguments: "", answer: "" }
          : { server, openapi: null, ...words };
      const made = await ask(api.POST("/api/mocks", { body }));
      notes = made.notes;
      await write(made.name, made.text);
    });
</script>

<div class="new max-w-190 pt-3 pb-6 px-4.5 overflow-auto" data-testid="new-server">
  <div
    class="flex gap-3 pb-1.5 border-b border-b-line"
    role="group"
    aria-label="How to bring a server in"
  >
    <Button kind="way" aria-pressed={fields.way === "paste"} onclick={() => (fields.way = "paste")}
      >Paste</Button
    >
    <Button kind="way" aria-pressed={fields.way === "words"} onclick={() => (fields.way = "words")}
      >Mock in a few words</Button
    >
    <Button
      kind="way"
      aria-pressed={fields.way === "openapi"}
      onclick={() => (fields.way = "openapi")}>Mock from OpenAPI</Button
    >
  </div>
  {#if fields.way === "paste"}
    <p class="soft my-2">
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
          bind:value={typed.fields.text}
          spellcheck="false"
        />
        <Button kind="go" onclick={look} disabled={!fields.text.trim()}>Find the server</Button>
      </div>
      <div>
        {#each found as one (one.file)}
          <section class="mb-4.5 pl-3 border-l-3 border-l-line">
            <h3 class="mt-0 mb-1 text-base">
              {one.name} <span class="soft mono">{one.file}</span>
            </h3>
            <pre
              class="mono mb-1.5 py-1.5 px-2.5 border border-line rounded-[4px] bg-raised overflow-x-auto text-sm">{one.text}</pre>
            {#each one.notes as note, i (i)}<p class="mt-0.5 mb-1.5 text-sm text-doubt">
                {note}
              </p>{/each}
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
      <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
        >Server <Field
          wide
          bind:value={typed.fields.server}
          required
          pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
          placeholder="pilots"
        /></label
      >
      {#if fields.way === "words"}
        <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
          >Tool <Field
            wide
            bind:value={typed.fields.tool}
            required
            placeholder="pilot_roster"
          /></label
        >
        <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
          >What it does <Field
            wide
            bind:value={typed.fields.description}
            placeholder="Who is on duty on one day."
          /></label
        >
        <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
          >Arguments <Field
            wide
            bind:value={typed.fields.args}
            placeholder="day: date, area?"
          /></label
        >
        <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
          >One answer <TextArea
            class="mono"
            rows={4}
            bind:value={typed.fields.answer}
            placeholder={'{"pilots": [{"name": "Ines Calder", "on": "06:00"}]}'}
          /></label
        >
        <p class="soft my-2">
          An argument is NAME, NAME: TYPE, or NAME? if it may be left out. The answer is JSON or
          words; it may hold expressions such as <span class="mono">{"{{ args.day }}"}</span>.
        </p>
      {:else}
        <label class="grid items-start gap-2.5 grid-cols-[110px_minmax(0,1fr)] py-0.75 text-sm"
          >Document <TextArea
            class="mono"
            rows={14}
            bind:value={typed.fields.openapi}
            required
            placeholder="An OpenAPI 3 document, JSON or YAML: its operations become tools, its examples answers."
          /></label
        >
      {/if}
      <Button type="submit" kind="go">Make the mock and try it</Button>
    </form>
  {/if}
  {#each notes as note, i (i)}<p class="mt-0.5 mb-1.5 text-sm text-doubt">{note}</p>{/each}
  <Fault message={act.fault} class="my-2" />
</div>

<style>
  .new:has(.two) {
    max-width: none;
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 24px;
  }
</style>
