<script lang="ts">
  /* Two confused tools side by side, to be reworded; a plan tries the new words. */
  import { address } from "../address.svelte";
  import { api, ask, type RewordBasis } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import { putDraft } from "../editor/drafts";
  import Button from "../kit/Button.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import { counted } from "../values/text";
  import { rewordingPlan, type Words } from "./planText";

  interface Props {
    side: string;
    expected: string;
    chosen: string;
    onclose: () => void;
  }
  let { side, expected, chosen, onclose }: Props = $props();

  const reading = new Resource(() =>
    ask(api.GET("/api/plan/reword", { params: { query: { side, expected, chosen } } })),
  );
  let words = $state<Record<string, Words>>({});
  $effect(() => {
    const found = reading.value;
    if (!found) return;
    words = Object.fromEntries(
      [found.expected, found.chosen].map((tool) => [
        tool.address,
        { name: tool.name, description: tool.description },
      ]),
    );
  });
  const changed = $derived(
    reading.value !== null &&
      [reading.value.expected, reading.value.chosen].some((tool) => {
        const now = words[tool.address];
        return now && (now.name !== tool.name || now.description !== tool.description);
      }),
  );

  function makePlan(found: RewordBasis) {
    const tool = (of: string) => of.split("/")[1] ?? of;
    const plan = `wording-of-${tool(expected)}-and-${tool(chosen)}`.replaceAll("_", "-");
    putDraft(`plans/${plan}.yaml`, {
      text: rewordingPlan(plan, found, $state.snapshot(words)),
      stamp: null,
      notes: [],
      note: "A plan that tries your words; it is not saved yet.",
    });
    onclose();
    address.go(`/compare?view=plans&plan=${plan}`);
  }
</script>

<Dialog title="Reword both tools" {onclose}>
  <Fault message={reading.fault} />
  {#if reading.value && Object.keys(words).length}
    {@const found = reading.value}
    <div class="grid grid-cols-2 gap-5" data-testid="reword-pair">
      {#each [{ tool: found.expected, role: "was expected" }, { tool: found.chosen, role: "was chosen instead" }] as { tool, role } (tool.address)}
        {@const now = words[tool.address]}
        {#if now}
          <fieldset class="min-w-0 text-sm">
            <legend class="mb-1"><b>{tool.address}</b> <span class="text-soft">{role}</span></legend
            >
            <label class="mb-1 block"
              >Name
              <Field wide bind:value={now.name} />
            </label>
            <label class="block"
              >Description
              <TextArea rows={6} bind:value={now.description} />
            </label>
          </fieldset>
        {/if}
      {/each}
    </div>
    <p class="mt-2 text-sm text-soft">
      The plan runs the words as they are and yours on {counted(found.touched.length, "task")} that the
      two tools touch, and {counted(found.untouched.length, "task")} that they do not, so that harm elsewhere
      would show. The server itself is left alone.
    </p>
    <div class="mt-3 flex items-center gap-3">
      <Button kind="go" disabled={!changed} onclick={() => makePlan(found)} data-testid="make-plan"
        >Make a plan of it</Button
      >
      {#if !changed}<span class="text-sm text-soft">Change a name or a description first.</span
        >{/if}
    </div>
  {:else if !reading.fault}
    <Waiting>Reading both tools…</Waiting>
  {/if}
</Dialog>
