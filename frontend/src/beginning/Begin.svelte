<script lang="ts">
  /* A folder without a workspace: what it begins with, and then the places where it goes on. */
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import { Typed } from "../editor/typed.svelte";
  import Notice from "../frame/Notice.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import { begun } from "./begun.svelte";

  let { onmade }: { onmade: () => Promise<void> } = $props();

  const kinds = new Resource(() => ask(api.GET("/api/beginning")));
  const typed = new Typed("a workspace", { kind: "plain", server: "" }, { secret: true });
  const act = new Action();
  const chosen = $derived(kinds.value?.kinds.find((k) => k.name === typed.fields.kind));

  function make(event: SubmitEvent) {
    event.preventDefault();
    return act.run(async () => {
      begun.made = await ask(api.POST("/api/beginning", { body: { ...typed.fields } }));
      typed.clear();
      await onmade();
    });
  }
</script>

{#if kinds.value?.refused}
  <Notice tone="broke" title="There is no workspace in this folder">
    <p>
      {kinds.value.folder} holds other files, and no <code>ferox.yaml</code>. Make a workspace in a
      folder of its own: <code>ferox new my-desk</code>, then <code>ferox serve my-desk</code>.
    </p>
  </Notice>
{:else if kinds.value}
  <section class="max-w-190 mx-auto pt-8 pb-6 px-4.5" aria-label="A new workspace">
    <h2 class="mt-0 mb-1 text-lg">Nothing is here yet</h2>
    <p class="soft mb-4">
      A workspace is a folder of text files: tool servers, agents, and tasks with what you expect.
      It is made in <span class="mono">{kinds.value.folder}</span>, and runs at once: with a small
      made-up server, two tasks and a simulated model, until you bring your own.
    </p>
    <form class="grid gap-3" onsubmit={make} data-testid="begin">
      <label class="grid gap-1">
        How is your agent built?
        <span>
          <Choice bind:value={typed.fields.kind}>
            {#each kinds.value.kinds as kind (kind.name)}
              <option value={kind.name}>{kind.title}</option>
            {/each}
          </Choice>
          {#if chosen?.needs}<span class="soft text-sm"
              >its environment needs <span class="mono">{chosen.needs}</span></span
            >{/if}
        </span>
      </label>
      <label class="grid gap-1">
        A tool server of yours, if you have one at hand
        <TextArea
          class="mono"
          rows={6}
          bind:value={typed.fields.server}
          spellcheck="false"
          placeholder="What its documentation gives: a launch line, an address, a client's configuration, or an OpenAPI document"
        />
      </label>
      <Fault message={act.fault} />
      <p>
        <Button type="submit" kind="go" disabled={act.busy}
          >{act.busy ? "Making it…" : "Make the workspace"}</Button
        >
      </p>
    </form>
  </section>
{:else if kinds.fault}
  <Notice tone="broke" title="Nothing can be shown"><p>{kinds.fault}</p></Notice>
{:else}
  <Waiting>Looking at the folder…</Waiting>
{/if}
