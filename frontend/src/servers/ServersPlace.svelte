<script lang="ts">
  import { connection } from "../frame/connection.svelte";
  import { address } from "../address.svelte";
  import { api, ask, type Server, type ServerLine } from "../api/client";
  import Notice from "../frame/Notice.svelte";
  import Changes from "./Changes.svelte";
  import FileEditor from "../editor/FileEditor.svelte";
  import MockSide from "./MockSide.svelte";
  import NewServer from "./NewServer.svelte";
  import Reads from "./Reads.svelte";
  import Recordings from "./Recordings.svelte";
  import ToolList from "./ToolList.svelte";
  import Wire from "./Wire.svelte";
  import Wording from "./Wording.svelte";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";

  let { name }: { name: string | null } = $props();

  const VIEWS = ["tools", "reads", "wording", "recordings", "file", "wire"];
  let servers = $state.raw<ServerLine[] | null>(null);
  let server = $state.raw<Server | null>(null);
  let reaching = $state(false);
  let fault = $state("");
  let listChanged = $state(false);

  const adding = $derived(address.query.get("view") === "new");
  const chosen = $derived(adding ? null : (name ?? servers?.[0]?.server ?? null));
  const line = $derived(servers?.find((l) => l.server === chosen) ?? null);
  const mode = $derived(address.query.get("mode"));
  const wanted = $derived(address.query.get("view") ?? "tools");
  const view = $derived(
    line && !line.modes.length ? "file" : VIEWS.includes(wanted) ? wanted : "tools",
  );
  const reads = $derived((server?.resources.length ?? 0) + (server?.prompts.length ?? 0));

  async function list() {
    try {
      servers = (await ask(api.GET("/api/servers"))).servers;
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  async function read(which: string, way: string | null, afresh = false) {
    reaching = true;
    try {
      const params = { path: { server: which } };
      const got = await ask(
        api.POST("/api/servers/{server}/reach", { params, body: { mode: way, afresh } }),
      );
      if (which !== chosen) return;
      server = got;
      listChanged = false;
      fault = "";
    } catch (error) {
      // What stands on the screen of the same server stays, for something may be typed in it.
      if (server?.server !== which) server = null;
      fault = (error as Error).message;
    }
    reaching = false;
  }

  async function agree(body: { secret: string; to: string }) {
    try {
      await ask(api.POST("/api/secrets/agree", { body }));
      if (server) await read(server.server, server.mode, true);
    } catch (error) {
      fault = (error as Error).message;
    }
  }

  $effect(() => {
    void connection.returns;
    void list();
  });

  const unknown = $derived(servers !== null && chosen !== null && !line);

  $effect(() => {
    if (line?.modes.length) void read(line.server, mode && line.modes.includes(mode) ? mode : null);
    else server = null;
  });

  // A live server may say that its list changed; it is asked for quietly.
  $effect(() => {
    if (!server || server.diagnosis || server.mode === "mock" || server.mode === "recorded") return;
    const params = { path: { server: server.server }, query: { mode: server.mode } };
    const timer = setInterval(async () => {
      try {
        const connection = await ask(api.GET("/api/servers/{server}/connection", { params }));
        listChanged = connection.list_changed;
      } catch {
        clearInterval(timer);
      }
    }, 3000);
    return () => clearInterval(timer);
  });

  function ago(at: number): string {
    const minutes = Math.round((Date.now() / 1000 - at) / 60);
    if (minutes < 90) return `${minutes} min ago`;
    return minutes < 2880
      ? `${Math.round(minutes / 60)} hours ago`
      : `${Math.round(minutes / 1440)} days ago`;
  }
</script>

{#snippet tab(to: string, words: string)}
  <Button
    kind="way"
    aria-pressed={view === to}
    onclick={() => address.mark("view", to === "tools" ? null : to)}>{words}</Button
  >
{/snippet}

{#if fault && !servers}
  <Notice tone="broke" title="The servers cannot be shown"><p>{fault}</p></Notice>
{:else if !servers}
  <div class="soft py-10 px-4.5" aria-live="polite">Reading the servers…</div>
{:else}
  <div class="grid grid-cols-[190px_minmax(0,1fr)] h-full">
    <nav class="py-2.5 border-r border-r-line overflow-auto" aria-label="Tool servers">
      {#each servers as one (one.file)}
        <a
          class="block py-1.25 pr-3.5 pl-4.5 border-l-3 border-l-transparent no-underline"
          href={`/servers/${one.server}`}
          aria-current={one.server === chosen ? "page" : undefined}
        >
          <span class="block overflow-hidden text-ellipsis font-medium" title={one.title}
            >{one.server}</span
          >
          {#if one.problems.length}
            <span class="text-broke text-sm">
              {counted(one.problems.length, "problem")} in its file
            </span>
          {:else}
            <span class="soft text-sm">{one.modes.join(", ") || "no way in yet"}</span>
          {/if}
        </a>
      {/each}
      <a
        class="block mt-2 py-1.25 pr-3.5 pl-4.5 border-l-3 border-l-transparent text-sm text-soft no-underline"
        href="/servers?view=new"
        aria-current={adding ? "page" : undefined}>Bring one in</a
      >
    </nav>

    {#if adding || !servers.length}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="A new server">
        {#if !servers.length}
          <h1 class="flex-none max-w-[40%] pt-3.5 px-4.5 truncate">
            No tool server yet. Bring one in:
          </h1>
        {/if}
        <NewServer onmade={list} />
      </section>
    {:else}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="The chosen server">
        {#if server && server.server === chosen}
          {@const here = server}
          <header class="flex items-center gap-3.5">
            <h1 class="flex-none max-w-[40%] truncate" title={here.title}>
              {here.title ?? here.server}
            </h1>
            <div class="flex gap-1" role="group" aria-label="Way to the server">
              {#each here.modes as way (way)}
                <Button
                  kind="way"
                  aria-pressed={way === here.mode}
                  onclick={() => address.mark("mode", way)}>{way}</Button
                >
              {/each}
            </div>
            <span class="soft mono flex-initial truncate" title={here.reached}
              >{here.reached ?? ""}</span
            >
            <span class="soft ml-auto whitespace-nowrap">
              {#if !here.diagnosis}
                {counted(here.tools.total, "tool")}, about {here.tokens.toLocaleString("en-GB")} tokens
                of context (estimated)
              {/if}
            </span>
            <Button onclick={() => read(here.server, here.mode, true)} disabled={reaching}>
              {reaching ? "Reaching…" : here.mode === "mock" ? "Restart" : "Look again"}
            </Button>
          </header>
          {#if fault}<p class="text-broke" role="alert">{fault}</p>{/if}
          {#if listChanged}
            <p class="mt-1.5 text-doubt" role="status">
              The server says that its list has changed. Look again.
            </p>
          {/if}
          {#if here.changes.length && here.seen_before}
            <details
              class="max-h-45 mt-2 pl-2.5 border-l-3 border-l-doubt overflow-auto text-sm"
              open={here.changes.length < 4}
            >
              <summary class="cursor-pointer">
                {counted(here.changes.length, "tool")} changed since the last look, {ago(
                  here.seen_before,
                )}
              </summary>
              <Changes changes={here.changes} />
            </details>
          {/if}
        {:else if line && line.modes.length}
          <div class="soft py-10 px-4.5" aria-live="polite">
            {#if fault}<span class="text-broke" role="alert">{fault}</span>{:else}Reaching {chosen}…{/if}
          </div>
        {:else if line}
          <header class="flex items-center gap-3.5">
            <h1 class="flex-none max-w-[40%] truncate">{line.server}</h1>
          </header>
        {:else if unknown}
          <Notice title={`There is no server ${chosen}`}>
            <p>
              Its file may have been renamed or removed; the servers that there are stand beside.
            </p>
          </Notice>
        {/if}

        {#if line && (server?.server === chosen || !line.modes.length)}
          <div class="flex items-center gap-3 mt-2 pb-1.5 border-b border-b-line">
            {#if server && line.modes.length}
              {#if !server.diagnosis}
                {@render tab("tools", "Tools")}
                {#if reads}{@render tab("reads", `Resources, prompts · ${reads}`)}{/if}
                {@render tab(
                  "wording",
                  `Wording${server.remarks ? ` · ${counted(server.remarks, "remark")}` : ""}`,
                )}
              {:else}
                {@render tab("tools", "Why not")}
              {/if}
              {@render tab("recordings", "Recordings")}
            {/if}
            {@render tab("file", "File")}
            {#if server && !server.diagnosis}
              {@render tab("wire", server.protocol ? `Wire · MCP ${server.protocol}` : "Wire")}
            {/if}
          </div>
          {#if view === "file"}
            {#key line.file}
              <FileEditor
                name={line.file}
                onsaved={() => {
                  void list();
                  if (chosen) void read(chosen, mode);
                }}
              >
                {#snippet side({ saved, put, again })}
                  <MockSide
                    name={line.server}
                    mocked={line.modes.includes("mock")}
                    live={line.modes.find((m) => m !== "mock" && m !== "recorded") ?? null}
                    {saved}
                    onmade={put}
                    onwritten={again}
                  />
                {/snippet}
              </FileEditor>
            {/key}
          {:else if server}
            {#if view === "recordings"}
              <Recordings
                {server}
                onchanged={() => {
                  void list();
                  void read(line.server, mode);
                }}
              />
            {:else if server.diagnosis}
              <Notice tone="broke" title={server.diagnosis.problem}>
                <p>Next: {server.diagnosis.advice}.</p>
                {#if server.diagnosis.agree}
                  {@const wish = server.diagnosis.agree}
                  <p>
                    <Button kind="go" onclick={() => agree(wish)}
                      >Let {wish.secret} go to {wish.to}</Button
                    >
                  </p>
                {/if}
              </Notice>
              <Wire {server} />
            {:else if view === "wording"}
              <Wording {server} />
            {:else if view === "reads"}
              {#key `${server.server} ${server.mode}`}<Reads {server} />{/key}
            {:else if view === "wire"}
              <Wire {server} />
            {:else}
              <ToolList {server} onchanged={() => read(line.server, mode)} />
            {/if}
          {/if}
        {/if}
      </section>
    {/if}
  </div>
{/if}

<style>
  nav a[aria-current] {
    border-left-color: var(--iron);
    background: var(--sheet);
  }
</style>
