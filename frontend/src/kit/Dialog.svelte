<script lang="ts">
  /* A dialog over the place; Escape and a click beside it close it. */
  import Modal from "flowbite-svelte/Modal.svelte";
  import { onDestroy, tick, type Snippet } from "svelte";

  interface Props {
    title: string;
    onclose: () => void;
    children: Snippet;
  }
  let { title, onclose, children }: Props = $props();
  let open = $state(true);
  // Whoever opened it goes on where they were; if that is gone, the place has the focus.
  const opener = document.activeElement as HTMLElement | null;
  let gone = false;
  onDestroy(() => {
    gone = true;
    void tick().then(() => {
      if (document.activeElement !== document.body) return;
      (opener?.isConnected ? opener : document.querySelector("main"))?.focus();
    });
  });
  const look = {
    header: "flex items-center justify-between px-5 py-3 [&_h3]:my-0 [&_h3]:text-lg",
    body: "px-5 pt-1 pb-5 overflow-y-auto",
    close: "size-6 p-1 cursor-pointer text-soft hover:text-ink",
  };
</script>

<!-- Without a fade: while one goes, the next may be asked for already. -->
<Modal
  bind:open
  transitionParams={{ duration: 0 }}
  {title}
  onclose={() => {
    // A dialog's own event comes late: another may be open by then.
    if (!gone) onclose();
  }}
  classes={look}
  class="m-auto w-full max-w-3xl flex-col rounded-sm border border-line bg-sheet text-ink
    backdrop:bg-ink/40 open:flex">{@render children()}</Modal
>
