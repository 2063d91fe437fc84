<script lang="ts">
  /* A simulated model made from a suite, so that it runs before there is a real one. */
  import { api, ask } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { connection } from "../frame/connection.svelte";
  import Button from "../kit/Button.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";

  let { suite }: { suite: string } = $props();
  const act = new Action();
  type Made = Awaited<ReturnType<typeof read>>;
  let made = $state.raw<Made | null>(null);
  const read = () => ask(api.POST("/api/suites/{suite}/stand-in", { params: { path: { suite } } }));
  const make = () =>
    act.run(async () => {
      made = await read();
      connection.readAgain(); // there is one more model
    });
</script>

<Button
  onclick={make}
  disabled={act.busy}
  title="A simulated model that carries out what this suite expects"
  data-testid="make-stand-in">{act.busy ? "Making it…" : "Make a stand-in"}</Button
>
<Fault message={act.fault} />
{#if made}
  {@const done = made}
  <Dialog title={`A stand-in for ${suite}`} onclose={() => (made = null)}>
    <p class="mb-2">
      <b>{done.model}</b> is a simulated model: it carries out what {suite} expects, its calls, their
      arguments and its answers. It is no proof that a real model would.
    </p>
    {#if done.notes.length}
      <p class="mb-1">What it could not know, to be written in its file:</p>
      <ul class="mb-3 pl-4.5 list-disc text-sm">
        {#each done.notes as note, i (i)}<li>{note}</li>{/each}
      </ul>
    {/if}
    <p class="flex items-center gap-4">
      <a
        class="inline-block rounded-sm bg-ink px-3.5 py-1 text-sheet no-underline"
        href={`/board?start=1&suite=${encodeURIComponent(suite)}&model=${encodeURIComponent(done.model)}`}
        >Run {suite} with it</a
      >
      <a href={`/agents?view=models&file=${encodeURIComponent(done.file)}`}>Edit {done.file}</a>
    </p>
  </Dialog>
{/if}
