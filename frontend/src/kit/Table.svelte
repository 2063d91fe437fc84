<script lang="ts">
  import Table from "flowbite-svelte/Table.svelte";
  import type { HTMLTableAttributes } from "svelte/elements";

  interface Props extends HTMLTableAttributes {
    /** Columns share the width as the head says, whatever stands in them. */
    fixed?: boolean;
    wide?: boolean;
  }
  let { fixed = false, wide = fixed, class: more, children, ...rest }: Props = $props();
  const look = $derived([
    "border-collapse text-sm text-ink",
    wide ? "w-full" : "w-auto",
    fixed && "table-fixed",
    more,
  ]);
</script>

<Table {...rest as object} class={look} classes={{ div: "contents" }}>{@render children?.()}</Table>
