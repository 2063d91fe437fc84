<script lang="ts">
  /* What an agent is: how it is reached, what it thinks with, what it is offered; and what is
     to be otherwise when it is talked to or probed here. */
  import type { AgentDetail, Overrides } from "../api/client";
  import { counted } from "../values/text";
  import Choice from "../kit/Choice.svelte";
  import OfferChoice from "./OfferChoice.svelte";
  import type { Offer } from "./offer";

  interface Props {
    detail: AgentDetail;
    overrides: Overrides;
    offer: Offer | null;
    onset: (overrides: Overrides) => void;
    onoffer: (offer: Offer | null) => void;
    /** Told of the agent once its file has another offer. */
    onkept: (now: AgentDetail) => void;
  }
  let { detail, overrides, offer, onset, onoffer, onkept }: Props = $props();

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

  <OfferChoice {detail} {overrides} {offer} {onset} {onoffer} {onkept} />

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
