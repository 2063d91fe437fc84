<script lang="ts">
  /* A box to tick, with what it says; with `group`, one of several by its `value`. */
  import Checkbox from "flowbite-svelte/Checkbox.svelte";
  import type { Snippet } from "svelte";

  interface Props {
    checked?: boolean;
    disabled?: boolean;
    /** The chosen of several; this one is `value`. */
    group?: string[];
    value?: string;
    onchange?: (checked: boolean) => void;
    label?: string;
    class?: string;
    children?: Snippet;
  }
  let {
    checked = $bindable(false),
    disabled = false,
    group = $bindable(),
    value,
    onchange,
    label,
    class: more = "",
    children,
  }: Props = $props();
  const isTicked = () => (group && value !== undefined ? group.includes(value) : checked);
  function tick(on: boolean) {
    if (group && value !== undefined) {
      group = on ? [...group.filter((v) => v !== value), value] : group.filter((v) => v !== value);
    } else checked = on;
  }
  const LOOK =
    "size-3.5 me-1.5 appearance-none rounded-sm border border-soft bg-raised align-middle " +
    "checked:border-holds checked:bg-holds checked:bg-(image:--tick) bg-center bg-no-repeat";
</script>

{#snippet words()}{@render children?.()}{/snippet}
<Checkbox
  bind:checked={isTicked, tick}
  {disabled}
  aria-label={label}
  onchange={(e: Event & { currentTarget: HTMLInputElement }) => onchange?.(e.currentTarget.checked)}
  class={LOOK}
  classes={{ div: ["inline-flex items-center font-normal", more] }}
  children={children ? words : undefined}
/>
