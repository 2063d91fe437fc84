<script lang="ts" generics="T">
  import Select from "flowbite-svelte/Select.svelte";
  import type { HTMLSelectAttributes } from "svelte/elements";
  import { FIELD } from "./looks";

  interface Props extends Omit<HTMLSelectAttributes, "size" | "value"> {
    value?: T;
    wide?: boolean;
  }
  let {
    value = $bindable(),
    wide = false,
    class: more,
    disabled,
    children,
    ...rest
  }: Props = $props();
  const look = $derived([FIELD, "pr-6", wide ? "w-full" : "w-auto", more]);
</script>

<Select
  {...rest}
  bind:value
  disabled={disabled ?? false}
  placeholder=""
  class="contents"
  classes={{ select: look }}>{@render children?.()}</Select
>
