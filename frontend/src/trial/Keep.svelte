<script lang="ts">
  /* Turns the trial into a task: into which suite, under which name; then it is reviewed in
     the editor. */
  import { address } from "../address.svelte";
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import { taskToReview } from "../editor/drafts";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";

  interface Props {
    trial: number;
    suggested: string;
    onclose: () => void;
  }
  let { trial, suggested, onclose }: Props = $props();

  const reading = new Resource(() => ask(api.GET("/api/suites")));
  const placing = new Resource(() =>
    ask(api.GET("/api/trials/{trial}/keep", { params: { path: { trial } } })),
  );
  const files = $derived((reading.value?.files ?? []).filter((f) => f.suite !== null));
  let picked = $state<string | null>(null);
  /** The suite that uses the trial's servers; without one, a new suite. */
  const file = $derived(picked ?? (placing.value ? (placing.value.file ?? "") : ""));
  let suite = $state("");
  // svelte-ignore state_referenced_locally
  let task = $state(suggested);
  const act = new Action();
  const NAME = /^[A-Za-z0-9][A-Za-z0-9_.-]*$/;
  const target = $derived(file || (NAME.test(suite) ? `tasks/${suite}.yaml` : ""));

  function make(event: SubmitEvent) {
    event.preventDefault();
    return act.run(async () => {
      const params = { path: { trial } };
      const body = { file: target, task };
      const made = await ask(api.POST("/api/trials/{trial}/draft", { params, body }));
      address.go(taskToReview(made));
    });
  }

  let field = $state<HTMLInputElement>();
  $effect(() => field?.focus());
</script>

<svelte:window onkeydown={(e) => e.key === "Escape" && onclose()} />

<form
  class="flex flex-wrap items-center gap-3 pt-1 pb-2 text-sm"
  onsubmit={make}
  aria-label="Keep as a task"
>
  <label>
    into
    <Choice bind:value={() => file, (value) => (picked = value)}>
      {#each files as f (f.file)}<option value={f.file}
          >{f.suite}{f.file === placing.value?.file ? " (uses its servers)" : ""}</option
        >{/each}
      <option value="">a new suite</option>
    </Choice>
  </label>
  {#if !file}
    <label>called <Field bind:value={suite} placeholder="suite" /></label>
  {/if}
  <label
    >as task <Field
      class="w-50"
      data-testid="task-name"
      bind:value={task}
      bind:element={field}
    /></label
  >
  <Button type="submit" kind="go" disabled={act.busy || !target || !NAME.test(task)}
    >Make the task</Button
  >
  <Button onclick={onclose}>Cancel</Button>
  <Fault message={act.fault || reading.fault} />
</form>
