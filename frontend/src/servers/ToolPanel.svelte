<script lang="ts">
  import { untrack } from "svelte";
  import { api, ask, type Server, type Tried } from "../api/client";
  import type { Json } from "../api/trace";
  import { duration } from "../values/told";
  import Value from "../values/Value.svelte";
  import ArgumentField from "./ArgumentField.svelte";

  interface Props {
    server: Server;
    tool: Server["tools"][number];
  }
  let { server, tool }: Props = $props();

  interface Schema {
    properties?: Record<string, Record<string, Json>>;
    required?: string[];
  }
  const schema = $derived((tool["inputSchema"] ?? {}) as Schema);
  const names = $derived(Object.keys(schema.properties ?? {}));

  // Defaults of the schema to start with; after that the arguments are the user's.
  let args = $state.raw<Record<string, Json>>(
    untrack(() =>
      Object.fromEntries(
        Object.entries(schema.properties ?? {}).flatMap(([n, p]) =>
          p["default"] === undefined ? [] : [[n, p["default"]]],
        ),
      ),
    ),
  );
  let raw = $state(false);
  let text = $state("");
  let textFault = $state("");
  let busy = $state(false);
  let fault = $state("");
  let tried = $state.raw<Tried | null>(null);

  function set(name: string, value: Json | undefined) {
    const others = Object.entries(args).filter(([n]) => n !== name);
    args = Object.fromEntries(value === undefined ? others : [...others, [name, value]]);
  }

  function turnRaw() {
    raw = !raw;
    text = JSON.stringify(args, null, 1);
    textFault = "";
  }

  function typed() {
    try {
      const value = JSON.parse(text) as Json;
      if (typeof value !== "object" || value === null || Array.isArray(value))
        throw new Error("the arguments are an object");
      args = value;
      textFault = "";
    } catch (error) {
      textFault = (error as Error).message;
    }
  }

  async function call(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    fault = "";
    try {
      const body = {
        mode: server.mode,
        tool: String(tool["name"]),
        args: { ...args } as Record<string, unknown>,
      };
      tried = await ask(
        api.POST("/api/servers/{server}/call", {
          params: { path: { server: server.server } },
          body,
        }),
      );
    } catch (error) {
      tried = null;
      fault = (error as Error).message;
    }
    busy = false;
  }

  const parsed = $derived.by((): Json[] => {
    if (!tried) return [];
    if (tried.structured !== null && tried.structured !== undefined)
      return [tried.structured as Json];
    return tried.content.map((block) => {
      if (block["type"] !== "text") return block as Json;
      try {
        return JSON.parse(String(block["text"])) as Json;
      } catch {
        return String(block["text"]);
      }
    });
  });
  const images = $derived((tried?.content ?? []).filter((b) => b["type"] === "image"));
</script>

<h2>{tool["name"]}</h2>
<p class="soft">{tool["description"] ?? "This tool has no description."}</p>

<form onsubmit={call} data-testid="try">
  {#if raw}
    <textarea
      class="mono"
      rows="7"
      aria-label="Arguments as JSON"
      bind:value={text}
      oninput={typed}
      spellcheck="false"></textarea>
    {#if textFault}<p class="broke" role="alert">{textFault}</p>{/if}
  {:else}
    {#each names as name (name)}
      <ArgumentField
        {name}
        schema={schema.properties?.[name] ?? {}}
        required={schema.required?.includes(name) ?? false}
        value={args[name]}
        onset={(value) => set(name, value)}
      />
    {:else}
      <p class="soft">It takes no arguments.</p>
    {/each}
  {/if}
  <div class="end">
    <button class="go-button" disabled={busy || textFault !== ""}
      >{busy ? "Calling…" : "Call it"}</button
    >
    <button type="button" class="plain-button" onclick={turnRaw}
      >{raw ? "As a form" : "As JSON"}</button
    >
    {#if server.mode === "mock"}<span class="soft small">the mock starts anew for each call</span
      >{/if}
  </div>
</form>

{#if fault}<p class="broke" role="alert">{fault}</p>{/if}
{#if tried}
  <div data-testid="tried">
    <h3>
      {tried.error ? "It failed" : "It answered"}
      <span class="soft">in {duration(tried.ms)}{server.mode === "mock" ? " (mocked)" : ""}</span>
    </h3>
    {#if tried.error}
      <p class="broke text">{tried.error}</p>
    {:else}
      {#each parsed as value, i (i)}<Value {value} />{/each}
      {#each images as image, i (i)}
        <img alt="" src={`data:${image["mimeType"]};base64,${image["data"]}`} />
      {/each}
    {/if}
    {#if tried.state}
      <h3>Its state</h3>
      {#each tried.changes as change, i (i)}
        <p>
          {change["op"] === "add" ? "added" : change["op"] === "remove" ? "removed" : "changed"}
          <span class="mono">{change["path"]}</span>
        </p>
        {#if change["op"] !== "remove"}<Value value={change["value"] as Json} />{/if}
      {:else}
        <p class="soft">stayed as it was</p>
      {/each}
      <details>
        <summary class="soft">the whole state after the call</summary>
        <Value value={tried.state as Json} />
      </details>
    {/if}
  </div>
{/if}

<style>
  h2 {
    font-size: 14px;
    font-weight: 600;
    margin: 0;
  }
  h3 {
    font-size: 13px;
    font-weight: 600;
    margin: 12px 0 3px;
  }
  p {
    margin: 2px 0 8px;
  }
  textarea {
    width: 100%;
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--raised);
    color: var(--ink);
    padding: 6px 9px;
  }
  .end {
    display: flex;
    align-items: center;
    gap: 10px;
    margin-top: 8px;
  }
  .broke {
    color: var(--broke);
  }
  .text {
    white-space: pre-wrap;
    overflow-wrap: anywhere;
  }
  .small {
    font-size: 12px;
  }
  img {
    max-width: 100%;
  }
</style>
