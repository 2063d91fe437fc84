<script lang="ts">
  /* The three steps to a first result, each in the place where it is done. */
  import type { Workspace } from "../api/client";
  import Button from "../kit/Button.svelte";
  import { counted } from "../values/text";
  import { begun } from "./begun.svelte";

  let { workspace, onstart }: { workspace: Workspace; onstart: () => void } = $props();

  const servers = $derived((workspace.servers ?? []).map((s) => s.server));
  const agents = $derived(workspace.agents.map((a) => a.agent));
  const tasks = $derived(workspace.suites.reduce((n, s) => n + s.tasks.length, 0));
  const STEP = "grid grid-cols-[30px_minmax(0,1fr)] py-3 border-t border-t-line";
</script>

{#snippet there(names: string[], noun: string)}
  {#if names.length}
    {counted(names.length, noun)}: {names.slice(0, 4).join(", ")}{names.length > 4 ? "…" : ""}
  {:else}
    None yet.
  {/if}
{/snippet}

<section class="max-w-190 mx-auto pt-6 pb-6" aria-label="To a first result" data-testid="steps">
  <h2 class="mt-0 mb-1 text-lg">No run yet</h2>
  <p class="soft mb-3">Three steps to a first result. Each leads to the place where it is done.</p>
  {#if begun.made}
    {#each begun.made.notes as note, i (i)}<p class="mb-1.5 text-doubt">{note}</p>{/each}
    {#if begun.made.needs}
      <p class="mb-3">
        Before its agent can start, its environment needs
        <span class="mono">{begun.made.needs}</span>.
        <a href={`/agents/${begun.made.agent}?view=probe`}>Probe it</a> to see whether it does.
      </p>
    {/if}
  {/if}
  <ol>
    <li class={STEP}>
      <span class="text-lg text-soft">1</span>
      <div>
        <b>Servers</b>
        <p class="soft">{@render there(servers, "server")}</p>
        <p>
          {#if servers[0]}
            <a href={`/servers/${servers[0]}`}>See what {servers[0]} offers</a><span class="soft"
              >,
            </span>
          {/if}
          <a href="/servers?view=new">bring {servers.length ? "another" : "one"} in</a>
        </p>
      </div>
    </li>
    <li class={STEP}>
      <span class="text-lg text-soft">2</span>
      <div>
        <b>Agents</b>
        <p class="soft">{@render there(agents, "agent")}</p>
        <p>
          {#if agents[0]}
            <a href={`/agents/${agents[0]}`}>Talk to {agents[0]}</a><span class="soft">, </span>
          {/if}
          <a href="/agents?view=new">connect {agents.length ? "another" : "one"}</a><span
            class="soft"
            >,
          </span>
          <a href="/agents?view=models">choose what it thinks with</a>
        </p>
      </div>
    </li>
    <li class={STEP}>
      <span class="text-lg text-soft">3</span>
      <div>
        <b>Tasks, and a run</b>
        <p class="soft">
          {tasks
            ? `${counted(tasks, "task")} with what is expected.`
            : "None yet: begin a suite, or talk to an agent and keep that as a task."}
        </p>
        <p class="mb-2"><a href="/tasks">{tasks ? "Read and change them" : "Begin a suite"}</a></p>
        <Button kind="go" data-testid="start" onclick={onstart} disabled={!tasks || !agents.length}
          >Start the first run</Button
        >
        <p class="soft mt-1.5">
          Each agent takes every task several times. Results appear here while it goes on.
        </p>
      </div>
    </li>
  </ol>
</section>
