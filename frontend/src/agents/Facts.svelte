<script lang="ts">
  /* What an agent is: how it is reached, what it thinks with, what it is offered; and what is
     to be otherwise when it is talked to or probed here. */
  import type { AgentDetail, Overrides } from "../api/client";
  import { counted } from "../values/text";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";

  interface Props {
    detail: AgentDetail;
    overrides: Overrides;
    onset: (overrides: Overrides) => void;
  }
  let { detail, overrides, onset }: Props = $props();

  const offered = $derived(detail.servers.filter((s) => s.tools.length || s.unknown));
  const withheld = $derived(detail.servers.filter((s) => !s.tools.length && !s.unknown));
  const known = $derived(offered.filter((s) => !s.unknown));
  const unknown = $derived(offered.filter((s) => s.unknown));
  const count = $derived(known.reduce((sum, s) => sum + s.tools.length, 0));
  /** Tools whose names are shown without being asked for; more are counted, and searched. */
  const MANY = 24;
  let whole = $state<string[]>([]);
  let search = $state("");
  const words = $derived(search.trim().toLowerCase());

  function shownOf(server: (typeof offered)[number]): string[] {
    if (words) return server.tools.filter((tool) => tool.toLowerCase().includes(words));
    return count <= MANY || whole.includes(server.server) ? server.tools : [];
  }

  function fold(server: string) {
    whole = whole.includes(server) ? whole.filter((s) => s !== server) : [...whole, server];
  }

  function setMode(server: string, mode: string) {
    onset({ ...overrides, modes: { ...overrides.modes, [server]: mode } });
  }

  function setModel(from: string, to: string) {
    const others = Object.entries(overrides.models ?? {}).filter(([old]) => old !== from);
    const models = Object.fromEntries(to === from ? others : [...others, [from, to]]);
    onset({ ...overrides, models });
  }
</script>

<div data-testid="facts" class="pt-2 pb-4 pr-4 overflow-auto text-sm">
  <dl>
    <dt>link</dt>
    <dd>
      {detail.line.link}
      <span class="mono soft block">{detail.reached}</span>
    </dd>
    {#each detail.models as model (model.called)}
      <dt>{model.called === "main" ? "model" : `model ${model.called}`}</dt>
      <dd>
        <Choice
          aria-label={`Model that stands for ${model.called}`}
          value={overrides.models?.[model.model] ?? model.model}
          onchange={(e) => setModel(model.model, e.currentTarget.value)}
        >
          {#each detail.all_models as name (name)}<option value={name}>{name}</option>{/each}
        </Choice>
        <span class="soft">{model.behind}</span>
      </dd>
    {:else}
      <dt>model</dt>
      <dd>its own: what it proposes is not seen</dd>
    {/each}
    <dt>seams</dt>
    <dd>tools{detail.models.length ? " and model" : " only"} pass Ferox</dd>
    <dt>limits</dt>
    <dd class="soft">
      {counted(Number(detail.limits["calls"]), "call")}, {counted(
        Number(detail.limits["model_calls"]),
        "request",
      )}, a turn {detail.limits["turn_s"]} s, a trial {detail.limits["trial_s"]} s
    </dd>
  </dl>

  <h2>
    Offered: {counted(count, "tool")} of {counted(known.length, "server")}{unknown.length
      ? `, and what ${unknown.map((s) => s.server).join(", ")} ${unknown.length > 1 ? "list" : "lists"}`
      : ""}
    {#if detail.own_tools.length}<span class="soft">and {detail.own_tools.length} of its own</span
      >{/if}
  </h2>
  {#if count > MANY}
    <Field
      wide
      type="search"
      placeholder={`Search ${counted(count, "tool")}`}
      aria-label="Search the offered tools"
      bind:value={search}
    />
  {/if}
  {#each offered as server (server.server)}
    <div class="flex items-center gap-2 mt-1.25">
      <b>{server.server}</b>
      <Choice
        aria-label={`How ${server.server} is had`}
        value={overrides.modes?.[server.server] ?? server.mode}
        onchange={(e) => setMode(server.server, e.currentTarget.value)}
      >
        {#each server.modes as mode (mode)}<option value={mode}>{mode}</option>{/each}
      </Choice>
      <span class="soft"
        >{server.unknown
          ? "its tools are known once it is reached"
          : counted(server.tools.length, "tool")}</span
      >
      {#if count > MANY && server.tools.length && !words}
        {@const open = whole.includes(server.server)}
        <Button kind="link" aria-expanded={open} onclick={() => fold(server.server)}
          >{open ? "hide" : "show"}</Button
        >
      {/if}
    </div>
    <p class="flex flex-wrap gap-x-2.5 gap-y-0">
      {#each shownOf(server) as tool (tool)}<span>{tool}</span>{/each}
      {#each server.left_out as tool (tool)}<s class="soft" title="withheld by its file">{tool}</s
        >{/each}
    </p>
  {:else}
    <p class="soft">
      No tools: {withheld.length ? "its file withholds all." : "there is no server."}
    </p>
  {/each}
  {#if offered.length && withheld.length}
    <p class="soft">Withheld: {withheld.map((s) => s.server).join(", ")}</p>
  {/if}

  {#if detail.instructions}
    <h2>Instructions</h2>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
    <div
      class="max-h-32.5 pl-2 border-l-2 border-l-line overflow-auto whitespace-pre-wrap"
      role="region"
      aria-label="Instructions"
      tabindex="0"
    >
      {detail.instructions}
    </div>
  {/if}

  {#if detail.standing.length}
    <h2>Standing addresses</h2>
    <p class="soft">
      {detail.standing_command
        ? "Ferox starts the service if nothing answers, and tells it these in FEROX_SEAMS."
        : "Tell the service these once; they lead to whichever trial is on."}
    </p>
    <dl>
      {#each detail.standing as one (one.name)}
        <dt>{one.name}</dt>
        <dd class="mono">{one.url}</dd>
      {/each}
    </dl>
  {/if}

  {#if detail.unset}
    <p class="mt-2.5 text-broke" role="alert">{detail.unset}</p>
  {:else if detail.variables.length}
    <details class="mt-3">
      <summary class="cursor-pointer"
        >{counted(detail.variables.length, "variable")} that it gets, and from where</summary
      >
      <dl>
        {#each detail.variables as v (v.name)}
          <dt class="mono">{v.name}</dt>
          <dd><span class="mono">{v.shown}</span> <span class="soft">from {v.origin}</span></dd>
        {/each}
      </dl>
    </details>
  {/if}
</div>
