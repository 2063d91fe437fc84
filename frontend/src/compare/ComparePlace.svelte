<script lang="ts">
  /* Compare: two sides, the arms of a run, and the plans that make them. */
  import { address } from "../address.svelte";
  import Tabs from "../kit/Tabs.svelte";
  import ArmsView from "./ArmsView.svelte";
  import PlansView from "./PlansView.svelte";
  import TrialPair from "./TrialPair.svelte";
  import TwoSides from "./TwoSides.svelte";

  const VIEWS = [
    ["two", "Two sides"],
    ["arms", "Arms of a run"],
    ["plans", "Plans"],
  ] as const;
  const shown = $derived(address.query.get("view") ?? "two");
</script>

<div class="flex h-full flex-col px-4.5 pt-2 max-md:h-auto">
  <Tabs views={VIEWS} {shown} label="What is compared" class="mb-2" />
  {#if shown === "plans"}
    <PlansView />
  {:else}
    <div class="pb-6">
      {#if shown === "arms"}<ArmsView />
      {:else if shown === "trials"}<TrialPair />
      {:else}<TwoSides />{/if}
    </div>
  {/if}
</div>
