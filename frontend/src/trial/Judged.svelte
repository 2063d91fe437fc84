<script lang="ts">
  /* Under which script the trial was scored, and the earlier results that can be seen again. */
  import type { Json } from "../values/json";
  import type { TrialView } from "../api/trace";
  import { differences } from "../values/differences";
  import Differences from "../values/Differences.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";

  interface Props {
    view: TrialView;
    onshow: (result: number | null) => void;
  }
  let { view, onshow }: Props = $props();
  let open = $state(false);

  const newest = $derived(view.results[0]?.id);
  const when = (at: number) =>
    new Date(at * 1000).toLocaleString("en-GB", { dateStyle: "short", timeStyle: "short" });
  const ways = $derived(
    view.ways.flatMap((count, part) => {
      const taken = view.result?.alternatives?.[part];
      if (!count || taken === null || taken === undefined) return [];
      const where = view.ways.length > 1 ? `part ${part + 1}: ` : "";
      return [`${where}judged under alternative ${taken + 1} of ${count}`];
    }),
  );
  const what = $derived(
    view.script.before ? differences(view.script.before as Json, view.script.task as Json) : [],
  );
</script>

{#each ways as way (way)}<span>{way}</span>{/each}
{#if view.results.length > 1}
  <label>
    scored
    <Choice
      value={String(view.shown)}
      onchange={(e) => {
        const id = Number(e.currentTarget.value);
        onshow(id === newest ? null : id);
      }}
    >
      {#each view.results as result (result.id)}
        <option value={String(result.id)}>
          {when(result.at)}: {result.verdict}{result.first ? ", when it ran" : ""}
        </option>
      {/each}
    </Choice>
  </label>
{/if}
{#if view.script.before}
  <Button kind="link" class="text-doubt" aria-expanded={open} onclick={() => (open = !open)}>
    under another script than it ran with
  </Button>
{/if}
{#if open && what.length}
  <div
    class="absolute top-full right-4.5 left-4.5 z-5 max-h-75 mt-1 py-2 px-3 border border-line bg-raised overflow-auto whitespace-normal"
  >
    <Differences {what} old="when it ran" now="scored under" />
  </div>
{/if}
