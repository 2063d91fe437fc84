<script lang="ts">
  /* Two ways of one server beside each other: their tools, and their answers to one call. */
  import { address } from "../address.svelte";
  import { api, ask, type Server } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import { byArrows } from "../kit/arrows";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import Differences from "../values/Differences.svelte";
  import { counted, grouped } from "../values/text";
  import TextDiff from "../values/TextDiff.svelte";
  import BesideCall from "./BesideCall.svelte";

  let { server }: { server: Server } = $props();
  /** Tools that are listed at once: whoever seeks another types its name. */
  const MOST = 200;

  const others = $derived(server.modes.filter((mode) => mode !== server.mode));
  const wanted = $derived(address.query.get("other"));
  const other = $derived(wanted && others.includes(wanted) ? wanted : (others[0] ?? ""));
  const chosen = $derived(address.query.get("tool"));
  let search = $state("");

  const reading = new Resource(() => {
    const params = { path: { server: server.server } };
    const body = { mode: server.mode, other };
    return ask(api.POST("/api/servers/{server}/beside", { params, body }));
  });
  const beside = $derived(reading.fault ? null : reading.value);

  interface Line {
    name: string;
    how: string;
  }
  // What differs comes first.
  const lines = $derived.by((): Line[] => {
    if (!beside) return [];
    const named = (names: string[], how: string) => names.map((name) => ({ name, how }));
    return [
      ...beside.differing.map(({ tool, what }) => ({
        name: tool,
        how: `differs in ${counted(what.length, "place")}`,
      })),
      ...named(beside.only_one, `only ${server.mode}`),
      ...named(beside.only_other, `only ${other}`),
      ...named(beside.same, "the same"),
    ];
  });
  const fitting = $derived(
    lines.filter((line) => line.name.toLowerCase().includes(search.trim().toLowerCase())),
  );
  const difference = $derived(beside?.differing.find((d) => d.tool === chosen) ?? null);
  const description = $derived(difference?.what.find((w) => w.where === "/description") ?? null);
  const rest = $derived(difference?.what.filter((w) => w !== description) ?? []);
  const line = $derived(lines.find((one) => one.name === chosen) ?? null);
  const both = $derived(line !== null && !line.how.startsWith("only"));
  const instructions = $derived(beside?.instructions.map((text) => text ?? "") ?? ["", ""]);
</script>

<div class="flex flex-wrap items-center gap-2.5 py-2 text-sm">
  <span>{server.mode} beside</span>
  <Choice
    aria-label="The other way"
    value={other}
    onchange={(e) => address.mark("other", e.currentTarget.value)}
  >
    {#each others as mode (mode)}<option value={mode}>{mode}</option>{/each}
  </Choice>
  {#if beside}
    <span class="text-soft" data-testid="beside-summary">
      {counted(beside.same.length, "tool")} the same, {beside.differing.length} differ,
      {beside.only_one.length} only {server.mode}, {beside.only_other.length} only {other}{beside
        .protocols[0] !== beside.protocols[1]
        ? `; MCP ${beside.protocols[0] ?? "not told"} and ${beside.protocols[1] ?? "not told"}`
        : ""}
    </span>
    <Button class="ml-auto" onclick={() => reading.read()} disabled={reading.reading}
      >Compare again</Button
    >
  {/if}
</div>
{#if reading.fault}
  <Fault message={reading.fault} />
{:else if !beside}
  <Waiting>Reaching {server.server} both ways…</Waiting>
{:else}
  <div
    class="grid min-h-0 flex-1 grid-cols-[minmax(0,2fr)_minmax(0,3fr)] max-md:block"
    data-testid="beside"
  >
    <div class="flex min-h-0 flex-col">
      <Field
        class="mr-3.5"
        type="search"
        placeholder={`Search ${counted(lines.length, "tool")}`}
        aria-label="Search the tools"
        bind:value={search}
      />
      <ul class="min-h-0 flex-1 overflow-auto pt-1.5 pr-3.5 pb-3.5" use:byArrows={"button"}>
        {#each fitting.slice(0, MOST) as one (one.name)}
          <li>
            <Button
              kind="row"
              class="flex justify-between gap-2.5"
              aria-pressed={one.name === chosen}
              onclick={() => address.mark("tool", one.name)}
            >
              <span class="font-medium wrap-anywhere">{one.name}</span>
              <span class={["flex-none", one.how === "the same" ? "text-soft" : "text-doubt"]}
                >{one.how}</span
              >
            </Button>
          </li>
        {:else}
          <li class="px-2 py-3.5 text-soft">No tool matches.</li>
        {/each}
        {#if fitting.length > MOST}
          <li class="px-2 py-1.5 text-sm text-soft">
            and {grouped(fitting.length - MOST)} more; search for them
          </li>
        {/if}
      </ul>
    </div>
    <div class="overflow-auto border-l border-l-line px-3.5 pt-1.5 pb-3.5">
      {#if line && chosen}
        <h2 class="my-0 text-base">{chosen}</h2>
        {#if !both}
          <p class="my-1.5">
            Only the {beside.only_one.includes(chosen) ? server.mode : other} way offers it.
          </p>
        {:else if !difference}
          <p class="my-1.5 text-holds">Its definition is the same, to the letter.</p>
        {:else}
          {#if description}
            <h3>Description</h3>
            <TextDiff
              before={String(description.before ?? "")}
              after={String(description.after ?? "")}
            />
          {/if}
          {#if rest.length}
            <h3>Definition</h3>
            <Differences what={rest} old={server.mode} now={other} />
          {/if}
        {/if}
        {#if both}
          {#key `${server.server} ${server.mode} ${other} ${chosen}`}
            <BesideCall {server} {other} tool={chosen} />
          {/key}
        {/if}
      {:else}
        <p class="text-soft">Choose a tool to see where it differs, and to call it both ways.</p>
        {#if instructions[0] !== instructions[1]}
          <h3>What the server tells every client</h3>
          <TextDiff before={instructions[0] ?? ""} after={instructions[1] ?? ""} />
        {/if}
      {/if}
    </div>
  </div>
{/if}
