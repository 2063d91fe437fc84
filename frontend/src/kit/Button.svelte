<script lang="ts">
  import Button from "flowbite-svelte/Button.svelte";
  import type { HTMLButtonAttributes } from "svelte/elements";
  import { BUTTONS, type ButtonKind } from "./looks";

  interface Props extends HTMLButtonAttributes {
    kind?: ButtonKind;
  }
  let { kind = "plain", class: more, disabled, children, ...rest }: Props = $props();
</script>

<Button {...rest as object} disabled={disabled ?? false} class={[BUTTONS[kind], more]}
  >{@render children?.()}</Button
>
