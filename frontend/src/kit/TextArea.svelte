<script lang="ts">
  import Textarea from "flowbite-svelte/Textarea.svelte";
  import type { HTMLTextareaAttributes } from "svelte/elements";
  import { FIELD } from "./looks";

  interface Props extends HTMLTextareaAttributes {
    value?: string;
  }
  let { value = $bindable(""), class: more, disabled, ...rest }: Props = $props();
</script>

<Textarea
  {...rest}
  bind:value
  disabled={disabled ?? false}
  classes={{ div: "contents" }}
  class={[FIELD, "block w-full py-1 resize-y", more]}
/>
