<script lang="ts">
  import { address } from "../address.svelte";
  import { api, ask, type Picture, type SuiteFile, type TaskPlace } from "../api/client";
  import { messageOf, Resource } from "../api/resource.svelte";
  import { draftOf, putDraft, stem, type Reason } from "../editor/drafts";
  import FileEditor from "../editor/FileEditor.svelte";
  import Notice from "../frame/Notice.svelte";
  import TaskPicture from "./TaskPicture.svelte";
  import MakeStandIn from "./MakeStandIn.svelte";
  import RejudgedTrials from "./RejudgedTrials.svelte";
  import { byArrows } from "../kit/arrows";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";

  let { name }: { name: string | null } = $props();

  const list = new Resource(() => ask(api.GET("/api/suites")));
  const files = $derived(list.value?.files ?? null);
  const servers = $derived(list.value?.servers ?? []);
  let text = $state("");
  let places = $state.raw<TaskPlace[]>([]);
  let picture = $state.raw<Picture | null>(null);
  let stale = $state("");
  let reasons = $state.raw<Reason[]>([]);
  let find = $state("");
  let making = $state("");
  let asked = 0;
  let opened = "";
  let editor = $state<FileEditor | null>(null);

  const file = $derived(name ? `tasks/${name}.yaml` : null);
  const shown = $derived(files?.find((f) => f.file === file) ?? null);
  const word = $derived(find.trim().toLowerCase());
  const here = $derived(picture?.task ?? null);

  $effect(() => {
    const first = files?.[0];
    if (!name && first) address.go(`/tasks/${stem(first.file)}`);
  });

  // A file's own story starts over with each file.
  $effect.pre(() => {
    if (file === opened) return;
    opened = file ?? "";
    text = "";
    places = [];
    picture = null;
    stale = "";
    reasons = (file ? draftOf(file)?.reasons : null) ?? [];
  });

  async function read(written: string, line: number) {
    if (!file) return;
    const mine = ++asked;
    try {
      const body = { name: file, text: written, line };
      const answer = await ask(api.POST("/api/suite/read", { body }));
      if (mine !== asked || body.name !== file) return;
      if (answer.picture) {
        const first = picture === null;
        picture = answer.picture;
        places = answer.tasks;
        text = written;
        stale = "";
        const wanted = address.query.get("task");
        if (first && wanted && wanted !== answer.picture.task) return jump(wanted);
        if (wanted !== answer.picture.task) address.mark("task", answer.picture.task);
      } else stale = answer.fault ?? "there is no task in it";
    } catch (error) {
      stale = messageOf(error);
    }
  }

  function jump(task: string) {
    const place = places.find((p) => p.task === task);
    if (place) editor?.goto(place.line);
  }

  function choose(event: MouseEvent, of: SuiteFile, task: string) {
    if (of.file !== file || event.metaKey || event.ctrlKey) return;
    event.preventDefault();
    address.mark("task", task);
    jump(task);
  }

  function begin(event: SubmitEvent) {
    event.preventDefault();
    const suite = making.trim();
    if (files?.some((f) => f.file === `tasks/${suite}.yaml`)) return address.go(`/tasks/${suite}`);
    const modes = servers.map((s) => `${s}: mock`).join(", ");
    const lines = [
      "ferox: 1",
      `suite: ${suite}`,
      `servers: {${modes}}`,
      "tasks:",
      "  - task: first",
      "    say: What does the user say?",
      "    expect:",
      "      calls: []",
      "",
    ];
    putDraft(`tasks/${suite}.yaml`, {
      text: lines.join("\n"),
      stamp: null,
      notes: [],
      note: "A new suite; it is not saved yet.",
    });
    making = "";
    address.go(`/tasks/${suite}`);
  }
</script>

<div class="grid grid-cols-[196px_minmax(0,1fr)] h-full max-md:block max-md:h-auto">
  <nav
    use:byArrows={"a"}
    class="pt-2.5 pb-3.5 pr-2.5 pl-4.5 border-r border-r-line overflow-auto text-sm max-md:max-h-40 max-md:border-b max-md:border-b-line"
    aria-label="Suites and tasks"
  >
    <Field
      wide
      type="search"
      placeholder="Find a task"
      bind:value={find}
      aria-label="Find a task"
    />
    <Fault message={list.fault} />
    {#each files ?? [] as of (of.file)}
      {@const tasks = of.file === file && places.length ? places.map((p) => p.task) : of.tasks}
      <h3 class="flex justify-between">
        <a
          class="leading-6 no-underline hover:text-ink"
          href={`/tasks/${stem(of.file)}`}
          aria-current={of.file === file ? "page" : undefined}
        >
          {of.suite ?? stem(of.file)}
        </a>
        {#if of.problems}<span class="text-broke" title="It does not load">{of.problems} !</span
          >{/if}
      </h3>
      <ul>
        {#each tasks.filter((t) => t.toLowerCase().includes(word)) as task, i (i)}
          <li>
            <a
              class="block pl-2 border-l-2 border-l-line truncate leading-6 text-soft no-underline hover:text-ink"
              href={`/tasks/${stem(of.file)}?task=${encodeURIComponent(task)}`}
              aria-current={of.file === file && task === here ? "true" : undefined}
              onclick={(event) => choose(event, of, task)}
              title={task}>{task}</a
            >
          </li>
        {/each}
      </ul>
    {/each}
    {#if file && files && !shown}<h3 class="flex justify-between">
        <span>{stem(file)}</span>
      </h3>{/if}
    <form class="flex gap-1.5 mt-3.5" onsubmit={begin}>
      <Field
        wide
        placeholder="New suite"
        bind:value={making}
        aria-label="New suite"
        pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
        title="Letters, digits, dots, hyphens and underscores"
      />
      <Button type="submit" disabled={!making.trim()}>Begin</Button>
    </form>
  </nav>
  <div class="flex flex-col min-w-0 min-h-0 pt-0.5 pr-4.5 pl-3.5">
    {#if file && (shown || draftOf(file) || text)}
      {#key file}
        <FileEditor bind:this={editor} name={file} onsaved={() => list.read()} onread={read} always>
          {#snippet side({ saved })}
            <div data-testid="task-side" class="min-w-0 min-h-0 pb-4 pr-1 pl-4 overflow-auto">
              {#if reasons.length}
                <section
                  class="max-h-[40%] mb-2.5 border-b border-b-line overflow-auto text-sm"
                  aria-label="What was inferred"
                >
                  <h3 class="mt-0">
                    Inferred, to be reviewed
                    <Button kind="link" onclick={() => (reasons = [])}>hide</Button>
                  </h3>
                  <dl class="mb-2">
                    {#each reasons as reason, i (i)}
                      <dt class="mono">{reason.what}</dt>
                      <dd>{reason.why}</dd>
                    {/each}
                  </dl>
                </section>
              {/if}
              {#if stale}
                <p class="mb-1.5 wrap-anywhere text-sm text-doubt" role="status">
                  {picture ? "The picture is of the last text that loaded: line" : "Line"}
                  {stale}
                </p>
              {/if}
              {#if shown?.suite && picture}
                <div class="flex justify-end mb-2"><MakeStandIn suite={shown.suite} /></div>
              {/if}
              {#if picture}
                <TaskPicture {picture} stale={stale !== ""} ongoto={(line) => editor?.goto(line)} />
                <RejudgedTrials
                  name={file}
                  {text}
                  task={picture.task}
                  suite={shown?.suite ?? null}
                  {saved}
                />
              {:else if !stale}
                <p class="soft">Reading…</p>
              {/if}
            </div>
          {/snippet}
        </FileEditor>
      {/key}
    {:else if files && files.length === 0}
      <Notice title="No suite yet">
        <p>A suite is a file of tasks. Begin one here, or turn a good trial into a task.</p>
      </Notice>
    {:else if files && file}
      <Notice title={`There is no ${file}`}><a href="/tasks">To the suites</a></Notice>
    {/if}
  </div>
</div>

<style>
  nav li a[aria-current] {
    border-left-color: var(--iron);
    color: var(--ink);
  }
</style>
