<script lang="ts">
  import Input from "flowbite-svelte/Input.svelte";
  import type { HTMLInputAttributes } from "svelte/elements";
  import { FIELD } from "./looks";

  interface Props extends Omit<HTMLInputAttributes, "size" | "children"> {
    value?: string | number;
    /** As wide as what is around it. */
    wide?: boolean;
    element?: HTMLInputElement;
  }
  let {
    value = $bindable(),
    wide = false,
    element = $bindable(),
    class: more,
    ...rest
  }: Props = $props();
</script>

<Input
  {...rest as object}
  bind:value
  bind:elementRef={element}
  class={[FIELD, wide ? "w-full" : "w-auto!", more]}
/>
