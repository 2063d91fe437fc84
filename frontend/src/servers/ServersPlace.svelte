<script lang="ts">
  import { address } from "../address.svelte";
  import { api, ask, type Server } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import Notice from "../frame/Notice.svelte";
  import Beside from "./Beside.svelte";
  import Changes from "./Changes.svelte";
  import FileEditor from "../editor/FileEditor.svelte";
  import MockSide from "./MockSide.svelte";
  import NewServer from "./NewServer.svelte";
  import Reads from "./Reads.svelte";
  import Recordings from "./Recordings.svelte";
  import ToolList from "./ToolList.svelte";
  import Wire from "./Wire.svelte";
  import Wording from "./Wording.svelte";
  import Secrets from "../secrets/Secrets.svelte";
  import { counted, grouped } from "../values/text";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import PlaceList from "../kit/PlaceList.svelte";
  import Tabs from "../kit/Tabs.svelte";
  import Waiting from "../kit/Waiting.svelte";

  let { name }: { name: string | null } = $props();

  const VIEWS = ["tools", "reads", "wording", "beside", "recordings", "file", "wire"];
  const list = new Resource(() => ask(api.GET("/api/servers")));
  const servers = $derived(list.value?.servers ?? null);
  let listChanged = $state(false);

  const adding = $derived(address.query.get("view") === "new");
  const secrets = $derived(address.query.get("view") === "secrets");
  const chosen = $derived(adding || secrets ? null : (name ?? servers?.[0]?.server ?? null));
  const line = $derived(servers?.find((l) => l.server === chosen) ?? null);
  const mode = $derived(address.query.get("mode"));
  const wanted = $derived(address.query.get("view") ?? "tools");
  const view = $derived(
    line && !line.modes.length ? "file" : VIEWS.includes(wanted) ? wanted : "tools",
  );
  /** What is to be reached, and which way. */
  const reached = $derived(line?.modes.length ? line.server : null);
  const way = $derived(mode && line?.modes.includes(mode) ? mode : null);

  // What stands on the screen of the same server stays, for something may be typed in it.
  const reach = new Resource<Server>(() =>
    reached ? ask(reachServer(reached, way, false)) : null,
  );
  const server = $derived(reach.value?.server === chosen ? reach.value : null);
  const reads = $derived((server?.resources.length ?? 0) + (server?.prompts.length ?? 0));
  const act = new Action();
  const fault = $derived(act.fault || reach.fault);

  function reachServer(which: string, mode: string | null, afresh: boolean) {
    const params = { path: { server: which } };
    return api.POST("/api/servers/{server}/reach", { params, body: { mode, afresh } });
  }

  /** Reached anew, however well it is known. */
  function lookAgain(which: Server) {
    return act.run(async () => reach.put(await ask(reachServer(which.server, which.mode, true))));
  }

  function agree(body: { secret: string; to: string }) {
    return act.run(async () => {
      await ask(api.POST("/api/secrets/agree", { body }));
      if (server) reach.put(await ask(reachServer(server.server, server.mode, true)));
    });
  }

  function readAll() {
    void list.read();
    void reach.read();
  }

  const unknown = $derived(servers !== null && chosen !== null && !line);

  // A live server may say that its list changed; it is asked for quietly.
  $effect(() => {
    listChanged = false;
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

  const views = $derived.by((): [string, string][] => {
    const file: [string, string] = ["file", "File"];
    if (!server || !line?.modes.length) return [file];
    if (server.diagnosis) return [["tools", "Why not"], ["recordings", "Recordings"], file];
    const remarks = server.remarks ? ` · ${counted(server.remarks, "remark")}` : "";
    return [
      ["tools", "Tools"],
      ...(reads ? [["reads", `Resources, prompts · ${reads}`] as [string, string]] : []),
      ["wording", `Wording${remarks}`],
      ...(server.modes.length > 1 ? [["beside", "Beside"] as [string, string]] : []),
      ["recordings", "Recordings"],
      file,
      ["wire", server.protocol ? `Wire · MCP ${server.protocol}` : "Wire"],
    ];
  });

  function ago(at: number): string {
    const minutes = Math.round((Date.now() / 1000 - at) / 60);
    if (minutes < 90) return `${minutes} min ago`;
    return minutes < 2880
      ? `${Math.round(minutes / 60)} hours ago`
      : `${Math.round(minutes / 1440)} days ago`;
  }
</script>

{#if list.fault && !servers}
  <Notice tone="broke" title="The servers cannot be shown"><p>{list.fault}</p></Notice>
{:else if !servers}
  <Waiting>Reading the servers…</Waiting>
{:else}
  <div class="grid grid-cols-[190px_minmax(0,1fr)] h-full max-md:block max-md:h-auto">
    <PlaceList
      label="Tool servers"
      items={servers}
      key={(one) => one.file}
      href={(one) => `/servers/${one.server}`}
      isChosen={(one) => one.server === chosen}
      title={(one) => one.title ?? one.server}
      more={[
        { href: "/servers?view=new", words: "Bring one in", chosen: adding },
        { href: "/servers?view=secrets", words: "Secrets", chosen: secrets },
      ]}
    >
      {#snippet line(one)}
        <span class="block truncate font-medium">{one.server}</span>
        {#if one.problems.length}
          <span class="text-sm text-broke"
            >{counted(one.problems.length, "problem")} in its file</span
          >
        {:else}
          <span class="text-sm text-soft">{one.modes.join(", ") || "no way in yet"}</span>
        {/if}
      {/snippet}
    </PlaceList>

    {#if secrets}
      <Secrets />
    {:else if adding || !servers.length}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="A new server">
        {#if !servers.length}
          <h1 class="flex-none max-w-[40%] pt-3.5 px-4.5 truncate">
            No tool server yet. Bring one in:
          </h1>
        {/if}
        <NewServer onmade={() => list.read()} />
      </section>
    {:else}
      <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label="The chosen server">
        {#if server}
          {@const here = server}
          <header class="flex flex-wrap items-center gap-x-3.5 gap-y-1">
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
                {counted(here.tools.total, "tool")}, about {grouped(here.tokens)} tokens of context (estimated)
              {/if}
            </span>
            <Button onclick={() => lookAgain(here)} disabled={act.busy || reach.reading}>
              {act.busy || reach.reading
                ? "Reaching…"
                : here.mode === "mock"
                  ? "Restart"
                  : "Look again"}
            </Button>
          </header>
          <Fault message={fault} />
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
          {#if fault}<Fault message={fault} />{:else}<Waiting>Reaching {chosen}…</Waiting>{/if}
        {:else if line}
          <header class="flex flex-wrap items-center gap-x-3.5 gap-y-1">
            <h1 class="flex-none max-w-[40%] truncate">{line.server}</h1>
          </header>
        {:else if unknown}
          <Notice title={`There is no server ${chosen}`}>
            <p>
              Its file may have been renamed or removed; the servers that there are stand beside.
            </p>
          </Notice>
        {/if}

        {#if line && (server || !line.modes.length)}
          <Tabs
            class="mt-2 border-b border-b-line pb-1.5"
            label="Views of the server"
            {views}
            shown={view}
          />
          {#if view === "file"}
            {#key line.file}
              <FileEditor name={line.file} onsaved={readAll}>
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
              <Recordings {server} onchanged={readAll} />
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
            {:else if view === "beside"}
              {#key `${server.server} ${server.mode}`}<Beside {server} />{/key}
            {:else if view === "reads"}
              {#key `${server.server} ${server.mode}`}<Reads {server} />{/key}
            {:else if view === "wire"}
              <Wire {server} />
            {:else}
              <ToolList {server} onchanged={() => reach.read()} />
            {/if}
          {/if}
        {/if}
      </section>
    {/if}
  </div>
{/if}
