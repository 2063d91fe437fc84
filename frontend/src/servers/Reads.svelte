<script lang="ts">
  /* Resources and templates, read; prompts, filled in. */
  import { api, ask, type Server } from "../api/client";
  import Content from "../values/Content.svelte";
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
  let fault = $state("");
  let busy = $state(false);

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
    fault = "";
    if (item["uri"]) void read();
  }

  async function read() {
    busy = true;
    fault = "";
    const params = { path: { server: server.server } };
    try {
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
    } catch (error) {
      items = null;
      fault = (error as Error).message;
    }
    busy = false;
  }
</script>

<div class="halves">
  <div class="lists">
    {#if server.resources.length}
      <h2>Resources</h2>
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
      <h2>Prompts</h2>
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
  <div class="panel">
    {#if chosen}
      <h2>{chosen["title"] ?? chosen["name"]}</h2>
      <form
        onsubmit={(e) => {
          e.preventDefault();
          void read();
        }}
      >
        {#each wanted as argument (argument.name)}
          <label>
            <span class={{ required: argument.required }}>{argument.name}</span>
            <Field bind:value={given[argument.name]} />
            {#if argument.description}<span class="soft description">{argument.description}</span
              >{/if}
          </label>
        {/each}
        <Button type="submit" kind="go" disabled={busy}
          >{busy ? "Reading…" : isPrompt ? "Fill it in" : "Read it"}</Button
        >
        {#if !isPrompt}<span class="mono soft uri">{uri}</span>{/if}
      </form>
      {#if fault}<p class="broke" role="alert">{fault}</p>{/if}
      <div data-testid="read">
        {#each items ?? [] as item, i (i)}
          {#if item["role"]}
            <p class="soft role">{item["role"]}</p>
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
  .halves {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    flex: 1;
    min-height: 0;
  }
  .lists,
  .panel {
    overflow: auto;
    padding: 6px 14px 14px 0;
  }
  .panel {
    padding-left: 14px;
    border-left: 1px solid var(--line);
  }
  h2 {
    font-size: 12.5px;
    font-weight: 600;
    margin: 8px 0 4px;
    overflow-wrap: anywhere;
  }
  ul {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  label {
    display: grid;
    grid-template-columns: 150px minmax(0, 1fr);
    gap: 1px 10px;
    padding: 3px 0;
    font-size: 12.5px;
  }
  .required {
    font-weight: 600;
  }
  .description {
    grid-column: 2;
    font-size: 12.5px;
  }
  .uri {
    font-size: 12.5px;
    margin-left: 8px;
    overflow-wrap: anywhere;
  }
  .role {
    margin: 10px 0 2px;
  }
  .broke {
    color: var(--broke);
    overflow-wrap: anywhere;
  }
</style>
