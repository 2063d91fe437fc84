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

<div
  class="grid gap-6 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] max-md:block max-h-60 pt-1.5 pb-2 border-b border-b-line overflow-auto text-sm"
  data-testid="setup"
>
  <dl class="content-start grid-cols-[86px_minmax(0,1fr)]">
    <dt>agent</dt>
    <dd>
      <a href={`/agents/${view.agent.file}`}>{view.trial.agent}</a>
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
        <span class="mr-3">{server} <span class="soft">{mode}</span></span>
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
    {#if setup.steps.length}
      <dt>prepared</dt>
      <dd>
        {#each setup.steps as step, i (i)}
          <span class={["block", { "text-broke": step.includes("(failed: ") }]}>{step}</span>
        {/each}
      </dd>
    {/if}
    <dt>overrides</dt>
    <dd>{setup.otherwise || "none"}</dd>
    <dt>clock</dt>
    <dd>{setup.clock} in {setup.zone}</dd>
    {#if setup.on}
      <dt>on</dt>
      <dd>
        {setup.on}
        {#if setup.lost.length}
          <span class="block text-doubt">
            done again, for its {setup.lost.length > 1 ? "machines were" : "machine was"} lost:
            {setup.lost.join(", ")}
          </span>
        {/if}
      </dd>
    {/if}
    <dt>versions</dt>
    <dd>Ferox {setup.ferox}, Python {setup.python}</dd>
  </dl>
  <section aria-label="Instructions">
    <h4 class="inline mr-3 text-sm font-normal text-soft">instructions</h4>

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
      <pre class="mt-0.5 whitespace-pre-wrap font-sans">{setup.instructions || "(none)"}</pre>
    {/if}
  </section>
</div>
