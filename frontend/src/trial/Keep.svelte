<script lang="ts">
  /* Turns the trial into a task: into which suite, under which name; then it is reviewed in
     the editor. */
  import { address } from "../address.svelte";
  import { api, ask, type SuiteFile } from "../api/client";
  import { taskToReview } from "../editor/drafts";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";

  interface Props {
    trial: number;
    suggested: string;
    onclose: () => void;
  }
  let { trial, suggested, onclose }: Props = $props();

  let files = $state.raw<SuiteFile[]>([]);
  let file = $state("");
  let suite = $state("");
  // svelte-ignore state_referenced_locally
  let task = $state(suggested);
  let fault = $state("");
  let busy = $state(false);
  const NAME = /^[A-Za-z0-9][A-Za-z0-9_.-]*$/;
  const target = $derived(file || (NAME.test(suite) ? `tasks/${suite}.yaml` : ""));

  $effect(() => {
    ask(api.GET("/api/suites")).then(
      (got) => {
        files = got.files.filter((f) => f.suite !== null);
        file = files[0]?.file ?? "";
      },
      (error: Error) => (fault = error.message),
    );
  });

  async function make(event: SubmitEvent) {
    event.preventDefault();
    busy = true;
    try {
      const params = { path: { trial } };
      const body = { file: target, task };
      const made = await ask(api.POST("/api/trials/{trial}/draft", { params, body }));
      address.go(taskToReview(made));
    } catch (error) {
      fault = (error as Error).message;
    }
    busy = false;
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
    <Choice bind:value={file}>
      {#each files as f (f.file)}<option value={f.file}>{f.suite}</option>{/each}
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
  <Button type="submit" kind="go" disabled={busy || !target || !NAME.test(task)}
    >Make the task</Button
  >
  <Button onclick={onclose}>Cancel</Button>
  {#if fault}<span class="text-broke" role="alert">{fault}</span>{/if}
</form>
