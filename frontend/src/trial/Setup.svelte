<script lang="ts">
  /* What the trial ran with: agent, models, servers, instructions, wording, faults, clock. */
  import type { TrialView } from "../api/trace";
  import { counted } from "../values/text";
  import TextDiff from "../values/TextDiff.svelte";
  import Value from "../values/Value.svelte";
  import type { Json } from "../values/json";
  import Button from "../kit/Button.svelte";

  let { view }: { view: TrialView } = $props();
  const setup = $derived(view.setup);
  let compare = $state(false);

  const reworded = $derived(
    Object.entries(setup.wording).flatMap(([server, tools]) =>
      Object.keys(tools).map((tool) => `${server}/${tool}`),
    ),
  );
  const models = $derived(
    setup.models
      .map(
        (m) =>
          `${m.called === "main" ? "" : `${m.called}: `}${m.model}${m.simulated ? " (simulated)" : m.recorded ? " (recorded)" : ""}`,
      )
      .join(", "),
  );
</script>

<div class="setup" data-testid="setup">
  <dl>
    <dt>agent</dt>
    <dd>
      <a href={`/agents/${view.trial.agent}`}>{view.trial.agent}</a>
      {setup.title ?? ""} <span class="soft">by the {setup.link} link</span>
    </dd>
    <dt>model</dt>
    <dd>
      {models || "its own; its requests do not pass Ferox"}
      {#if Object.keys(setup.params).length}<Value value={setup.params as Json} depth={1} />{/if}
    </dd>
    <dt>servers</dt>
    <dd>
      {#each Object.entries(setup.modes) as [server, mode] (server)}
        <span class="server">{server} <span class="soft">{mode}</span></span>
      {:else}none{/each}
    </dd>
    <dt>wording</dt>
    <dd>
      {#if reworded.length}
        {counted(reworded.length, "tool")} reworded: {reworded.join(", ")}
      {:else}as the servers have it{/if}
    </dd>
    <dt>faults</dt>
    <dd>
      {#if setup.faults.length}
        <span class="text-doubt">{setup.faults.join("; ")}</span>
      {:else}none{/if}
    </dd>
    <dt>overrides</dt>
    <dd>{setup.otherwise || "none"}</dd>
    <dt>clock</dt>
    <dd>{setup.clock} in {setup.zone}</dd>
    <dt>versions</dt>
    <dd>Ferox {setup.ferox}, Python {setup.python}</dd>
  </dl>
  <section aria-label="Instructions">
    <h4>instructions</h4>

    {#if setup.before && !setup.before.same}
      <Button
        kind="link"
        class="text-doubt"
        aria-expanded={compare}
        onclick={() => (compare = !compare)}
        >{compare ? "as they are" : `not those of run ${setup.before.run}: what differs`}</Button
      >
    {:else if setup.before}
      <span class="soft">the same as in run {setup.before.run}</span>
    {:else}
      <span class="soft">no earlier run has this agent</span>
    {/if}
    {#if compare && setup.before}
      <TextDiff before={setup.before.text} after={setup.instructions} />
    {:else}
      <pre>{setup.instructions || "(none)"}</pre>
    {/if}
  </section>
</div>

<style>
  .setup {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    gap: 24px;
    padding: 6px 0 8px;
    border-bottom: 1px solid var(--line);
    font-size: 12.5px;
    max-height: 184px;
    overflow: auto;
  }
  dl {
    display: grid;
    grid-template-columns: 86px minmax(0, 1fr);
    align-content: start;
    gap: 2px 12px;
    margin: 0;
  }
  h4 {
    display: inline;
    margin: 0 12px 0 0;
    font-size: 12.5px;
    font-weight: 400;
    color: var(--soft);
  }
  dt {
    color: var(--soft);
  }
  dd {
    margin: 0;
    overflow-wrap: anywhere;
  }
  .server {
    margin-right: 12px;
  }
  pre {
    margin: 2px 0 0;
    font-family: inherit;
    white-space: pre-wrap;
  }
</style>
