<script lang="ts">
  /* What is too long to be sent whole, in pieces, as much of it as somebody asks for. */
  import { api, ask } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import { grouped } from "../values/text";

  interface Props {
    trial: number;
    place: number;
    fields: ("text" | "data" | "args" | "result" | "content")[];
  }
  let { trial, place, fields }: Props = $props();

  let field = $state<Props["fields"][number] | null>(null);
  let text = $state("");
  let total = $state(0);
  const act = new Action();

  function read(which: NonNullable<typeof field>, start: number) {
    return act.run(async () => {
      const params = { path: { trial, place }, query: { field: which, start } };
      const got = await ask(api.GET("/api/trials/{trial}/events/{place}", { params }));
      text = start ? text + got.text : got.text;
      [field, total] = [which, got.total];
    });
  }
</script>

<div class="my-1 text-sm" data-testid="whole">
  <span class="soft">Too long to show at once. Read on in</span>
  {#each fields as one (one)}
    <Button aria-pressed={field === one} onclick={() => read(one, 0)}>{one}</Button>
  {/each}
  <Fault message={act.fault} />
  {#if field}
    <pre
      class="mono max-h-80 my-1 py-1.5 px-2 bg-sheet overflow-auto whitespace-pre-wrap wrap-anywhere">{text}</pre>
    {#if [...text].length < total}
      <Button onclick={() => field && read(field, [...text].length)}
        >more of {grouped(total)} characters</Button
      >
    {/if}
  {/if}
</div>
