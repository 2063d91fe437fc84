<script lang="ts">
  /* A dialog over the place; Escape and a click beside it close it. */
  import Modal from "flowbite-svelte/Modal.svelte";
  import type { Snippet } from "svelte";

  interface Props {
    title: string;
    onclose: () => void;
    children: Snippet;
  }
  let { title, onclose, children }: Props = $props();
  let open = $state(true);
  const look = {
    header: "flex items-center justify-between px-5 py-3 text-lg font-semibold",
    body: "px-5 pb-5 overflow-y-auto",
    close: "size-6 p-1 cursor-pointer text-soft hover:text-ink",
  };
</script>

<Modal
  bind:open
  {title}
  {onclose}
  classes={look}
  class="m-auto w-full max-w-3xl flex-col rounded-sm border border-line bg-sheet text-ink
    backdrop:bg-ink/40 open:flex">{@render children()}</Modal
>
