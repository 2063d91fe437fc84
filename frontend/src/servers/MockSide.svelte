<script lang="ts">
  /* Beside the editor: the saved mock tried at once, and ways to make a mock or a tool of it. */
  import { untrack } from "svelte";
  import { Typed } from "../editor/typed.svelte";
  import { api, ask, type Made, type Server } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import ChosenTool from "./ChosenTool.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    name: string;
    live: string | null;
    mocked: boolean;
    saved: number;
    onmade: (made: Made) => void;
    onwritten: () => void;
  }
  let { name, live, mocked, saved, onmade, onwritten }: Props = $props();

  let mock = $state.raw<Server | null>(null);
  let picked = $state("");
  const typed = untrack(
    () =>
      new Typed(`mock of ${name}`, {
        openapi: "",
        tool: "",
        description: "",
        args: "",
        answer: "",
      }),
  );
  const act = new Action();
  const chosen = $derived(
    mock?.tools.tools.find((t) => t.name === picked)?.name ?? mock?.tools.tools[0]?.name ?? null,
  );

  async function read(afresh: boolean) {
    try {
      const params = { path: { server: name } };
      const body = { mode: "mock", afresh };
      mock = await ask(api.POST("/api/servers/{server}/reach", { params, body }));
    } catch {
      mock = null; // the file has no mock yet
    }
  }

  $effect(() => {
    void saved;
    if (mocked) void read(false);
    else mock = null;
  });

  const params = $derived({ path: { server: name } });
  const make = (source: "list" | "openapi") =>
    act.run(async () => {
      const body = { source, mode: live, recording: null, text: typed.fields.openapi || null };
      onmade(await ask(api.POST("/api/servers/{server}/mock", { params, body })));
    });
  const add = () =>
    act.run(async () => {
      const { tool, description, args, answer } = typed.fields;
      const body = { tool, description, arguments: args, answer };
      await ask(api.POST("/api/servers/{server}/tool", { params, body }));
      picked = tool;
      typed.clear();
      onwritten();
    });
</script>

<aside class="pt-0 pb-3.5 pr-1 pl-4 overflow-auto" data-testid="mock-side">
  {#if mock && chosen}
    <div class="flex items-center justify-between mb-2 text-sm">
      <label>
        Try
        <Choice bind:value={picked} aria-label="Tool of the mock">
          {#each mock.tools.tools as t, i (i)}<option value={t.name}>{t.name}</option>{/each}
        </Choice>
      </label>
      <Button onclick={() => read(true)}>Restart</Button>
    </div>
    {#key `${chosen} ${saved}`}
      <ChosenTool server={mock} name={chosen} onchanged={onwritten} />
    {/key}
  {/if}
  <details class="mt-3.5 pt-2 border-t border-t-line text-sm" open={!mock}>
    <summary class="cursor-pointer"
      >{mock ? "More tools, or another mock" : "This file has no mock yet: make one"}</summary
    >
    <form
      class="grid gap-1 [justify-items:start]"
      onsubmit={(e) => {
        e.preventDefault();
        void add();
      }}
    >
      <h3>A tool in a few words</h3>
      <Field
        wide
        placeholder="name"
        aria-label="Name of the tool"
        bind:value={typed.fields.tool}
        required
      />
      <Field
        wide
        placeholder="what it does"
        aria-label="What it does"
        bind:value={typed.fields.description}
      />
      <Field
        wide
        placeholder="imo, day: date, notes?"
        aria-label="Arguments"
        bind:value={typed.fields.args}
      />
      <TextArea
        class="mono"
        rows={3}
        placeholder="one answer, JSON or words"
        aria-label="One answer"
        bind:value={typed.fields.answer}
      />
      <Button type="submit" kind="go">Add it</Button>
    </form>
    {#if live}
      <h3>From the live server's list</h3>
      <Button onclick={() => make("list")}>Every tool, answers to fill in</Button>
    {/if}
    <h3>From an OpenAPI document</h3>
    <TextArea
      class="mono"
      rows={4}
      placeholder="OpenAPI 3, JSON or YAML"
      aria-label="OpenAPI document"
      bind:value={typed.fields.openapi}
    />
    <Button disabled={!typed.fields.openapi.trim()} onclick={() => make("openapi")}
      >Make the mock</Button
    >
  </details>
  <Fault message={act.fault} />
</aside>
