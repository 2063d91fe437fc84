<script lang="ts">
  /* What a person thinks of a trial: a mark and a note, kept apart from the checks. */
  import { Typed } from "../editor/typed.svelte";
  import { messageOf } from "../api/resource.svelte";
  import { untrack } from "svelte";
  import { api, ask } from "../api/client";
  import type { TrialView } from "../api/trace";
  import Button from "../kit/Button.svelte";
  import TextArea from "../kit/TextArea.svelte";

  let { view }: { view: TrialView } = $props();
  const MARKS = [
    ["right", "right"],
    ["wrong", "wrong"],
    ["unsure", "unsure"],
  ] as const;
  type Name = (typeof MARKS)[number][0] | null;

  let mark = $state<Name>(untrack(() => (view.mark?.mark ?? null) as Name));
  const typed = untrack(
    () => new Typed(`note on trial ${view.trial.id}`, { note: view.mark?.note ?? "" }),
  );
  let kept = $state(untrack(() => view.mark?.note ?? ""));
  let status = $state("");

  async function keep(next: Name) {
    const params = { path: { trial: view.trial.id } };
    try {
      const body = { mark: next, note: typed.fields.note };
      const now = await ask(api.PUT("/api/trials/{trial}/mark", { params, body }));
      mark = now.mark as Name;
      kept = now.note;
      typed.clear({ note: now.note });
      status = "Kept.";
    } catch (error) {
      status = messageOf(error);
    }
    setTimeout(() => (status = ""), 2500);
  }
</script>

<section aria-label="By a person" data-testid="mark">
  <h3 class="flex justify-between">
    by a person <span class="soft font-normal" role="status">{status}</span>
  </h3>
  <div class="flex gap-1.5 mb-1.5">
    {#each MARKS as [name, label] (name)}
      <Button
        class="px-2 py-px text-sm"
        aria-pressed={mark === name}
        onclick={() => keep(mark === name ? null : name)}>{label}</Button
      >
    {/each}
  </div>
  <TextArea
    rows={2}
    placeholder="A note"
    aria-label="Note"
    bind:value={typed.fields.note}
    onblur={() => typed.fields.note !== kept && keep(mark)}
  />
</section>
