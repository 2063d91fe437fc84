<script lang="ts">
  /* What would mend it? A small plan, made from what failed, that changes one thing at a time. */
  import { address } from "../address.svelte";
  import { api, ask } from "../api/client";
  import { Action, Resource, Rested } from "../api/resource.svelte";
  import { putDraft, stem } from "../editor/drafts";
  import Button from "../kit/Button.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import Sentence from "../values/Sentence.svelte";
  import { counted } from "../values/text";

  interface Props {
    trial: number;
    onclose: () => void;
  }
  let { trial, onclose }: Props = $props();
  const REST_MS = 250;

  let sentence = $state("");
  let repeats = $state<number | string>(10);
  const rested = new Rested(
    () => ({ trials: Math.max(2, Number(repeats) || 2), sentence: sentence.trim() || null }),
    REST_MS,
  );
  const reading = new Resource(() =>
    rested.value
      ? ask(
          api.POST("/api/trials/{trial}/mend", {
            params: { path: { trial } },
            body: rested.value,
          }),
        )
      : null,
  );
  const found = $derived(reading.fault ? null : reading.value);
  const total = $derived(found ? (found.changes.length + 1) * (rested.value?.trials ?? 0) : 0);
  const act = new Action();

  function start() {
    if (!found) return;
    const { name, text } = found;
    return act.run(async () => {
      const run = await ask(api.POST("/api/plan/start", { body: { name, text, at_once: 2 } }));
      address.go(`/compare?view=arms&run=${run.id}`);
    });
  }

  function asPlan() {
    if (!found) return;
    const note = "What would mend a trial; it is not saved yet, and can be started as it is.";
    putDraft(found.name, { text: found.text, stamp: null, notes: [], note });
    address.go(`/compare?view=plans&plan=${stem(found.name)}`);
  }
</script>

<Dialog title="What would mend it?" {onclose}>
  <div class="grid gap-3 text-sm" data-testid="mend">
    <p class="text-soft">
      The same task and agent as they are, and with one thing changed each. Only what could lie
      behind this failure is tried.
    </p>
    {#if found}
      <ul class="list-disc pl-5" data-testid="mend-changes">
        <li>as it is</li>
        {#each found.changes as change (change)}<li><Sentence words={change} /></li>{/each}
      </ul>
    {:else if !reading.fault}
      <Waiting>Looking at what failed…</Waiting>
    {/if}
    <Fault message={reading.fault} />
    <label class="grid gap-1"
      >A sentence for its instructions, if you have one in mind
      <TextArea rows={2} bind:value={sentence} />
    </label>
    <label class="flex items-center gap-2"
      >Repeats of each
      <Field class="w-16" type="number" min="2" max="1000" bind:value={repeats} />
    </label>
    <Fault message={act.fault} />
    <div class="flex items-center gap-3">
      <Button kind="go" disabled={!found || act.busy} onclick={start} data-testid="start-mend"
        >{act.busy ? "Starting…" : `Start ${counted(total, "trial")}`}</Button
      >
      <Button disabled={!found} onclick={asPlan}>See it as a plan</Button>
    </div>
  </div>
</Dialog>
