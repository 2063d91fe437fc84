<script lang="ts">
  /* What an agent is offered, by ticks: for what is done here, or kept in its file. */
  import { api, ask, type AgentDetail, type Overrides } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";
  import { counted } from "../values/text";
  import { isOffered, ticked, withServer, withTools, type Offer } from "./offer";

  interface Props {
    detail: AgentDetail;
    overrides: Overrides;
    offer: Offer | null;
    onset: (overrides: Overrides) => void;
    onoffer: (offer: Offer | null) => void;
    onkept: (now: AgentDetail) => void;
  }
  let { detail, overrides, offer, onset, onoffer, onkept }: Props = $props();
  type Server = AgentDetail["servers"][number];

  const act = new Action();
  const offered = $derived(detail.servers.filter((s) => isOffered(s, offer)));
  const unknown = $derived(offered.filter((s) => s.unknown));
  const count = $derived(offered.reduce((sum, s) => sum + ticked(s, offer).length, 0));
  const known = $derived(
    detail.servers.reduce((sum, s) => sum + s.tools.length + s.left_out.length, 0),
  );
  /** Tools whose names are shown without being asked for; more are counted, and searched. */
  const MANY = 24;
  let unfolded = $state<string[]>([]);
  let search = $state("");
  const words = $derived(search.trim().toLowerCase());

  const toolsOf = (server: Server) => [...server.tools, ...server.left_out];

  function shownOf(server: Server): string[] {
    if (words) return toolsOf(server).filter((tool) => tool.toLowerCase().includes(words));
    return known <= MANY || unfolded.includes(server.server) ? toolsOf(server) : [];
  }

  function fold(server: string) {
    unfolded = unfolded.includes(server)
      ? unfolded.filter((s) => s !== server)
      : [...unfolded, server];
  }

  function tick(server: Server, tool: string, on: boolean) {
    const now = ticked(server, offer);
    const tools = toolsOf(server).filter((t) => (t === tool ? on : now.includes(t)));
    onoffer(withTools(detail.servers, offer, server, tools));
  }

  function setMode(server: string, mode: string) {
    onset({ ...overrides, modes: { ...overrides.modes, [server]: mode } });
  }

  function keep() {
    return act.run(async () => {
      const params = { path: { agent: detail.line.agent } };
      onkept(await ask(api.PUT("/api/agents/{agent}/offer", { params, body: { offer } })));
    });
  }
</script>

<section aria-label="What it is offered" data-testid="offer">
  <h2>
    Offered: {counted(count, "tool")} of {counted(
      offered.length - unknown.length,
      "server",
    )}{unknown.length
      ? `, and what ${unknown.map((s) => s.server).join(", ")} ${unknown.length > 1 ? "list" : "lists"}`
      : ""}
    {#if detail.own_tools.length}<span class="soft">and {detail.own_tools.length} of its own</span
      >{/if}
  </h2>
  {#if offer !== null}
    <p class="mb-1 text-doubt" role="status">
      Other than its file says, here only.
      <Button kind="link" onclick={keep} disabled={act.busy}>Keep it in its file</Button>
      <Button kind="link" onclick={() => onoffer(null)}>As its file says</Button>
    </p>
  {/if}
  <Fault message={act.fault} />
  {#if known > MANY}
    <Field
      wide
      type="search"
      placeholder={`Search ${counted(known, "tool")}`}
      aria-label="Search the tools"
      bind:value={search}
    />
  {/if}
  {#each detail.servers as server (server.server)}
    {@const on = isOffered(server, offer)}
    {@const tools = toolsOf(server)}
    {@const left = ticked(server, offer)}
    <div class="flex items-center gap-2 mt-1.25">
      <Tick
        checked={on}
        label={`Offer ${server.server}`}
        onchange={(now) => onoffer(withServer(detail.servers, offer, server, now))}
        ><b class={on ? "" : "text-soft"}>{server.server}</b></Tick
      >
      {#if on}
        <Choice
          aria-label={`How ${server.server} is had`}
          value={overrides.modes?.[server.server] ?? server.mode}
          onchange={(e) => setMode(server.server, e.currentTarget.value)}
        >
          {#each server.modes as mode (mode)}<option value={mode}>{mode}</option>{/each}
        </Choice>
      {/if}
      <span class="soft">
        {#if server.unknown && on}
          its tools are known once it is reached
        {:else if !on}
          withheld
        {:else}
          {left.length === tools.length
            ? counted(tools.length, "tool")
            : `${left.length} of ${counted(tools.length, "tool")}`}
        {/if}
      </span>
      {#if known > MANY && tools.length && !words}
        {@const open = unfolded.includes(server.server)}
        <Button kind="link" aria-expanded={open} onclick={() => fold(server.server)}
          >{open ? "hide" : "show"}</Button
        >
      {/if}
    </div>
    {#if on || words || unfolded.includes(server.server)}
      <p class="flex flex-wrap gap-x-3 gap-y-0 pl-5">
        {#each shownOf(server) as tool (tool)}
          <Tick
            class="min-h-6"
            checked={left.includes(tool)}
            onchange={(now) => tick(server, tool, now)}
            ><span class={left.includes(tool) ? "" : "text-soft line-through"}>{tool}</span></Tick
          >
        {/each}
      </p>
    {/if}
  {:else}
    <p class="soft">No tools: there is no server.</p>
  {/each}
</section>
