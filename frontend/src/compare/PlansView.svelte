<script lang="ts">
  /* Plans as files: what is varied, and beside the text the arms that it makes. */
  import { address } from "../address.svelte";
  import { api, ask, type Run } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import { draftOf, putDraft, stem } from "../editor/drafts";
  import FileEditor from "../editor/FileEditor.svelte";
  import Notice from "../frame/Notice.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import { byArrows } from "../kit/arrows";
  import { newPlanText } from "./planText";
  import PlanSide from "./PlanSide.svelte";

  const list = new Resource(() => ask(api.GET("/api/plans")));
  const workspace = new Resource(() => ask(api.GET("/api/workspace")));
  const files = $derived(list.value?.files ?? null);
  const name = $derived(address.query.get("plan") ?? (files?.[0] ? stem(files[0].file) : null));
  const file = $derived(name ? `plans/${name}.yaml` : null);
  const shown = $derived(files?.find((one) => one.file === file) ?? null);
  let text = $state("");
  let making = $state("");

  function begin(event: SubmitEvent) {
    event.preventDefault();
    const plan = making.trim();
    if (workspace.value && !files?.some((one) => one.file === `plans/${plan}.yaml`)) {
      putDraft(`plans/${plan}.yaml`, {
        text: newPlanText(plan, workspace.value),
        stamp: null,
        notes: [],
        note: "A new plan; it is not saved yet.",
      });
    }
    making = "";
    address.mark("plan", plan);
  }

  function started(run: Run) {
    address.go(`/board/${run.id}`);
  }
</script>

<div class="grid min-h-0 flex-1 grid-cols-[190px_minmax(0,1fr)] max-md:block">
  <nav
    class="overflow-auto border-r border-r-line pr-2.5 text-sm"
    aria-label="Plans"
    use:byArrows={"a"}
  >
    <Fault message={list.fault} />
    {#each files ?? [] as one (one.file)}
      <a
        class="block truncate border-l-3 border-l-transparent py-1 pl-2 no-underline aria-[current=page]:border-l-iron"
        href={`/compare?view=plans&plan=${stem(one.file)}`}
        aria-current={one.file === file ? "page" : undefined}
        title={one.title ?? one.file}
        >{one.plan ?? stem(one.file)}{#if one.problems}<span
            class="text-broke"
            title="It does not load"
          >
            {one.problems} !</span
          >{/if}</a
      >
    {/each}
    <form class="mt-3 flex gap-1.5" onsubmit={begin}>
      <Field
        wide
        placeholder="New plan"
        bind:value={making}
        aria-label="New plan"
        pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
        title="Letters, digits, dots, hyphens and underscores"
      />
      <Button type="submit" disabled={!making.trim() || !workspace.value}>Begin</Button>
    </form>
  </nav>
  <div class="flex min-h-0 min-w-0 flex-col pl-3.5">
    {#if file && (shown || draftOf(file) || text)}
      {#key file}
        <FileEditor
          name={file}
          onsaved={() => list.read()}
          onread={(typed) => (text = typed)}
          always
        >
          {#snippet side({ saved })}
            <PlanSide
              name={file}
              {text}
              {saved}
              runs={shown?.runs ?? []}
              atOnce={workspace.value?.at_once ?? 2}
              onstarted={started}
            />
          {/snippet}
        </FileEditor>
      {/key}
    {:else if files && files.length === 0}
      <Notice title="No plan yet">
        <p>
          A plan runs the same tasks under several arms: another model, wording, offer, more tools.
          Begin one here, or choose what to vary in <a href="/board?start=1">Start a run</a>.
        </p>
      </Notice>
    {:else if files && file}
      <Notice title={`There is no ${file}`}><a href="/compare?view=plans">To the plans</a></Notice>
    {/if}
  </div>
</div>
