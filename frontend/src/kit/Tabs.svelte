<script lang="ts">
  /* The views of one thing, side by side; the address keeps which is shown. */
  import { address } from "../address.svelte";
  import Button from "./Button.svelte";

  interface Props {
    /** Each view's name in the address, and its words; the first needs no mark there. */
    views: readonly (readonly [name: string, words: string])[];
    shown: string;
    label: string;
    class?: string;
  }
  let { views, shown, label, class: more = "" }: Props = $props();
</script>

<div class={["flex items-center gap-3", more]} role="group" aria-label={label}>
  {#each views as [name, words], i (name)}
    <Button
      kind="way"
      aria-pressed={shown === name}
      onclick={() => address.mark("view", i === 0 ? null : name)}>{words}</Button
    >
  {/each}
</div>
