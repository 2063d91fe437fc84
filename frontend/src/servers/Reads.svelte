<script lang="ts">
  /* Resources and templates, read; prompts, filled in. */
  import { api, ask, type Server } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Content from "../values/Content.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";

  let { server }: { server: Server } = $props();

  interface Argument {
    name: string;
    description?: string;
    required?: boolean;
  }
  let chosen = $state.raw<Record<string, unknown> | null>(null);
  let given = $state<Record<string, string>>({});
  let items = $state.raw<Record<string, unknown>[] | null>(null);
  const act = new Action();

  const isPrompt = $derived(chosen !== null && server.prompts.includes(chosen));
  const template = $derived(String(chosen?.["uriTemplate"] ?? ""));
  const wanted = $derived<Argument[]>(
    isPrompt
      ? ((chosen?.["arguments"] ?? []) as Argument[])
      : [...template.matchAll(/\{[?&/#.+;]?([^}*]+)\*?\}/g)].flatMap((m) =>
          (m[1] ?? "").split(",").map((n) => ({ name: n, required: true })),
        ),
  );
  const uri = $derived(
    template
      ? template.replace(/\{[?&/#.+;]?([^}*]+)\*?\}/g, (_, names: string) =>
          names
            .split(",")
            .map((n) => encodeURIComponent(given[n] ?? ""))
            .join(","),
        )
      : String(chosen?.["uri"] ?? ""),
  );

  function choose(item: Record<string, unknown>) {
    chosen = item;
    given = {};
    items = null;
    act.fault = "";
    if (item["uri"]) void read();
  }

  function read() {
    const params = { path: { server: server.server } };
    items = null;
    return act.run(async () => {
      const got = isPrompt
        ? await ask(
            api.POST("/api/servers/{server}/prompt", {
              params,
              body: { mode: server.mode, name: String(chosen?.["name"]), args: { ...given } },
            }),
          )
        : await ask(
            api.POST("/api/servers/{server}/read", { params, body: { mode: server.mode, uri } }),
          );
      items = got.items;
    });
  }
</script>

<div class="grid flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] min-h-0 max-md:block">
  <div class="pt-1.5 pb-3.5 pr-3.5 overflow-auto">
    {#if server.resources.length}
      <h2 class="mt-2">Resources</h2>
      <ul>
        {#each server.resources as r, i (i)}
          <li>
            <Button
              kind="row"
              class="flex flex-wrap gap-x-2.5"
              aria-pressed={chosen === r}
              onclick={() => choose(r)}
            >
              <span class="mono">{r["uri"] ?? r["uriTemplate"]}</span>
              <span class="soft">{r["title"] ?? r["name"]} {r["mimeType"] ?? ""}</span>
              <span class="soft">{r["description"] ?? ""}</span>
            </Button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if server.prompts.length}
      <h2 class="mt-2">Prompts</h2>
      <ul>
        {#each server.prompts as p, i (i)}
          <li>
            <Button
              kind="row"
              class="flex flex-wrap gap-x-2.5"
              aria-pressed={chosen === p}
              onclick={() => choose(p)}
            >
              <b>{p["title"] ?? p["name"]}</b>
              <span class="soft">{p["description"] ?? ""}</span>
            </Button>
          </li>
        {/each}
      </ul>
    {/if}
    {#if !server.resources.length && !server.prompts.length}
      <p class="soft">This server offers neither resources nor prompts.</p>
    {/if}
  </div>
  <div class="pt-1.5 pb-3.5 px-3.5 border-l border-l-line overflow-auto">
    {#if chosen}
      <h2 class="mt-2">
        {chosen["title"] ?? chosen["name"]}
      </h2>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void read();
        }}
      >
        {#each wanted as argument (argument.name)}
          <label class="grid gap-x-2.5 gap-y-px grid-cols-[150px_minmax(0,1fr)] py-0.75 text-sm">
            <span class={{ required: argument.required }}>{argument.name}</span>
            <Field bind:value={given[argument.name]} />
            {#if argument.description}<span class="soft col-start-2 text-sm"
                >{argument.description}</span
              >{/if}
          </label>
        {/each}
        <Button type="submit" kind="go" disabled={act.busy}
          >{act.busy ? "Reading…" : isPrompt ? "Fill it in" : "Read it"}</Button
        >
        {#if !isPrompt}<span class="mono soft ml-2 wrap-anywhere text-sm">{uri}</span>{/if}
      </form>
      <Fault message={act.fault} class="wrap-anywhere" />
      <div data-testid="read">
        {#each items ?? [] as item, i (i)}
          {#if item["role"]}
            <p class="soft mt-2.5 mb-0.5">{item["role"]}</p>
            <Content block={item["content"] as Record<string, unknown>} />
          {:else}
            <Content block={item} />
          {/if}
        {/each}
      </div>
    {:else}
      <p class="soft">Choose a resource to read it, or a prompt to fill it in.</p>
    {/if}
  </div>
</div>

<style>
  .required {
    font-weight: 600;
  }
</style>
