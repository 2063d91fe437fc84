<script lang="ts">
  /* Which calls are held: none, any, writes, a trial's first, or those of a tool. */
  import { untrack } from "svelte";
  import type { HoldRule } from "../api/client";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";

  interface Props {
    rule: HoldRule | null;
    onset: (rule: HoldRule | null) => void;
  }
  let { rule, onset }: Props = $props();
  let tool = $state(untrack(() => (rule?.when === "tool" ? (rule.tool ?? "*") : "*")));

  function choose(when: string) {
    if (when === "") onset(null);
    else onset({ when: when as HoldRule["when"], tool: when === "tool" ? tool : "*" });
  }
</script>

<span data-testid="hold-choice" class="inline-flex items-center gap-1.5 whitespace-nowrap">
  <label class="inline-flex items-center gap-1.5 whitespace-nowrap">
    Hold
    <Choice value={rule?.when ?? ""} onchange={(e) => choose(e.currentTarget.value)}>
      <option value="">no call</option>
      <option value="any">every call</option>
      <option value="writes">calls that may write</option>
      <option value="first">each trial's first call</option>
      <option value="tool">calls of a tool</option>
    </Choice>
  </label>
  {#if rule?.when === "tool"}
    <Field
      class="mono w-35"
      aria-label="Tool to hold, * stands for anything"
      bind:value={tool}
      onchange={() => onset({ when: "tool", tool })}
    />
  {/if}
</span>
