<script lang="ts">
  /* Why something failed, said where it failed; nothing while all is well. */
  let { message, class: more = "my-1" }: { message: string | null | undefined; class?: string } =
    $props();
</script>

{#if message}<p class={["wrap-anywhere text-broke", more]} role="alert">{message}</p>{/if}
