<script lang="ts">
  /* Everything a server offers in one searchable list, and the chosen tool beside it. */
  import { address } from "../address.svelte";
  import { api, ask, type Server, type ToolPage } from "../api/client";
  import { messageOf } from "../api/resource.svelte";
  import ChosenTool from "./ChosenTool.svelte";
  import { counted, grouped } from "../values/text";
  import Fault from "../kit/Fault.svelte";
  import { byArrows } from "../kit/arrows";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";

  let { server, onchanged }: { server: Server; onchanged: () => void } = $props();

  let search = $state("");
  let page = $state.raw<ToolPage | null>(null);
  let fault = $state("");
  const shown = $derived(page ?? server.tools);
  const chosen = $derived(address.query.get("tool"));

  // A new look, or other words to search for: the list starts over.
  $effect(() => {
    void server;
    const words = search.trim();
    page = null;
    if (!words) return;
    const timer = setTimeout(() => void read(words, null), 150);
    return () => clearTimeout(timer);
  });

  async function read(words: string, before: ToolPage | null) {
    const start = before?.tools.length ?? 0;
    try {
      const query = { mode: server.mode, search: words, start };
      const params = { path: { server: server.server }, query };
      const got = await ask(api.GET("/api/servers/{server}/tools", { params }));
      if (words !== search.trim()) return;
      page = { ...got, tools: [...(before?.tools ?? []), ...got.tools] };
      fault = "";
    } catch (error) {
      fault = messageOf(error);
    }
  }
</script>

<div class="grid flex-1 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] min-h-0 max-md:block">
  <div class="flex flex-col min-h-0 pt-2">
    <Field
      class="w-[calc(100%-14px)]!"
      type="search"
      placeholder={`Search ${counted(server.tools.total, "tool")} by name and description`}
      aria-label="Search the tools"
      bind:value={search}
    />
    <Fault message={fault} />
    <ul use:byArrows={"button"} class="pt-1.5 pb-3.5 pr-3.5 overflow-auto" data-testid="tools">
      {#each shown.tools as t, i (i)}
        <li>
          <Button
            kind="row"
            class="grid grid-cols-[auto_1fr_auto] gap-x-2.5"
            aria-pressed={chosen === t.name}
            onclick={() => address.mark("tool", t.name)}
          >
            <span class="overflow-hidden text-ellipsis font-medium">
              <bdi>{t.name}</bdi>
              {#if t.reads && t.reads.name !== t.name}<span
                  class="font-normal text-iron"
                  title="what agents read">→ {t.reads.name}</span
                >{/if}
            </span>
            <span class="truncate text-sm">
              {#each t.required as argument (argument)}<b class="font-semibold">{argument}</b
                >&nbsp;{/each}
              <span class="soft">{t.optional.join(" ")}</span>
            </span>
            <span class="soft" title="Tokens of context, estimated">{t.cost}</span>
            <span class="soft col-span-full truncate text-sm">
              {#if t.remarked}<span class="text-doubt" title="There are remarks under Wording"
                  >remarked ·</span
                >{/if}
              {#if t.reads}<span class="font-normal text-iron">reworded ·</span>{/if}
              {(t.reads?.description ?? t.description) || "(no description)"}
            </span>
          </Button>
        </li>
      {:else}
        <li data-testid="no-tools" class="soft py-3.5 px-2">
          {server.tools.total ? "No tool matches." : "This server offers no tools."}
        </li>
      {/each}
      {#if shown.tools.length < shown.total}
        <li class="py-3.5 px-2">
          <Button onclick={() => void read(search.trim(), shown)}
            >{grouped(shown.total - shown.tools.length)} more</Button
          >
        </li>
      {/if}
    </ul>
  </div>
  <div class="pt-1.5 pb-3.5 px-3.5 border-l border-l-line overflow-auto">
    {#if chosen}
      {#key `${server.server} ${server.mode} ${chosen}`}
        <ChosenTool {server} name={chosen} {onchanged} />
      {/key}
    {:else}
      <p class="soft">Choose a tool to read its definition and try a call.</p>
      {#if server.instructions}
        <h2 class="mt-3.5">What the server tells every client</h2>
        <p class="whitespace-pre-wrap">{server.instructions}</p>
      {/if}
    {/if}
  </div>
</div>
