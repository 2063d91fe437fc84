<script lang="ts">
  /* Leaves out of a failing trial what it fails without, and offers what is left as a task. */
  import { onDestroy, untrack } from "svelte";
  import { address } from "../address.svelte";
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import type { components } from "../api/schema";
  import type { TrialView } from "../api/trace";
  import { watch } from "../api/watch";
  import { taskToReview } from "../editor/drafts";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import JobBar from "../sharing/JobBar.svelte";
  import { counted, grouped } from "../values/text";

  type Shrunk = components["schemas"]["ShrinkShape"];
  type Piece = Shrunk["pieces"][number];

  let { view, onclose }: { view: TrialView; onclose: () => void } = $props();
  const KINDS = [
    ["tool", "Tools that the script does not expect"],
    ["rule", "Rules of the user"],
    ["part", "Later parts"],
    ["given", "What is given"],
    ["line", "Lines of the instructions"],
  ] as const;

  const trial = $derived(view.trial.id);
  const failed = $derived((view.result?.checks ?? []).filter((c) => c.passed === false));
  let check = $state(untrack(() => failed[0]?.id ?? ""));
  let repeats = $state<number | string>(3);
  let least = $state<number | string>(3);
  let budget = $state<number | string>(100);
  const whole = (value: number | string) => Math.max(1, Math.round(Number(value)) || 1);

  const used = $derived(view.result?.tokens ?? null);
  const tokens = $derived(used && (used.input + used.output) * whole(budget));

  let shrunk = $state.raw<Shrunk | null>(null);
  const going = $derived(shrunk?.state === "running");
  const kept = $derived((shrunk?.pieces ?? []).filter((p) => p.kept));
  const gone = $derived((shrunk?.pieces ?? []).filter((p) => !p.kept));
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => unwatch());

  const start = (event: SubmitEvent) => {
    event.preventDefault();
    return act.run(async () => {
      const params = { path: { trial } };
      const n = whole(repeats);
      const body = {
        check: check || null,
        repeats: n,
        at_least: Math.min(n, whole(least)),
        budget: whole(budget),
      };
      shrunk = await ask(api.POST("/api/trials/{trial}/shrink", { params, body }));
      unwatch();
      unwatch = watch<Shrunk>("shrinks", shrunk.id, { change: (now) => (shrunk = now) });
    });
  };

  const stop = (now: Shrunk) =>
    act.run(async () => {
      const params = { path: { shrinking: now.id } };
      shrunk = await ask(api.POST("/api/shrinks/{shrinking}/stop", { params }));
    });

  const placing = new Resource(() =>
    ask(api.GET("/api/trials/{trial}/keep", { params: { path: { trial } } })),
  );
  const keep = (now: Shrunk) =>
    act.run(async () => {
      const file = placing.value?.file ?? `tasks/${view.trial.suite}.yaml`;
      const params = { path: { shrinking: now.id } };
      const body = { file, task: `${view.trial.task}-small` };
      const made = await ask(api.POST("/api/shrinks/{shrinking}/draft", { params, body }));
      address.go(taskToReview(made));
    });

  const why = $derived(
    {
      stopped: "Stopped: less may be enough.",
      budget: "The budget is spent: less may be enough.",
      done: "None of what is needed can be left out by itself.",
    }[shrunk?.state ?? ""] ?? "",
  );
  const of = (pieces: Piece[], kind: string) => pieces.filter((p) => p.kind === kind);
</script>

<Dialog title="Shrink: what does it still fail with?" {onclose}>
  <div class="grid gap-3 text-sm" data-testid="shrink">
    <p class="text-soft">
      Tools, rules of the user, later parts, what is given and lines of the instructions are left
      out as long as the same check still fails. What is left is offered as a task.
    </p>
    <form class="flex flex-wrap items-center gap-x-4 gap-y-2" onsubmit={start}>
      <label class="flex items-center gap-2"
        >Check
        <Choice class="max-w-60" bind:value={check} disabled={going}>
          {#each failed as one (one.id + (one.part ?? ""))}<option value={one.id}>{one.id}</option
            >{/each}
        </Choice>
      </label>
      <label class="flex items-center gap-2"
        >fails in
        <Field class="w-14" type="number" min="1" max="100" bind:value={least} disabled={going} />
      </label>
      <label class="flex items-center gap-2"
        >of
        <Field class="w-14" type="number" min="1" max="100" bind:value={repeats} disabled={going} />
      </label>
      <label class="flex items-center gap-2"
        >with at most
        <Field class="w-18" type="number" min="1" max="2000" bind:value={budget} disabled={going} />
        trials{view.agent.simulated ? " (simulated)" : ""}{tokens
          ? `: ${grouped(tokens)} tokens, by what this one took`
          : ""}
      </label>
      {#if going && shrunk}
        {@const now = shrunk}
        <Button onclick={() => stop(now)} disabled={act.busy}>Stop</Button>
      {:else}
        <Button type="submit" kind="go" disabled={act.busy} data-testid="start-shrink"
          >{shrunk ? "Shrink again" : "Shrink"}</Button
        >
      {/if}
    </form>
    <Fault message={act.fault || shrunk?.message} />
    {#if shrunk}
      {@const now = shrunk}
      <JobBar job={{ state: now.state, done: now.tried, total: now.budget }} noun="trials" />
      {#if now.sentence}
        <p>
          <strong data-testid="shrunk">{now.sentence}</strong>
          {#if !going}<span class="soft">{why} {counted(now.tried, "trial")} were carried out.</span
            >{/if}
        </p>
      {/if}
      {#if now.pieces.length && now.of}
        <div class="grid grid-cols-2 gap-4">
          {#each [["Needed", kept], ["Left out", gone]] as const as [name, pieces] (name)}
            <section aria-label={name}>
              <h4>{name}</h4>
              {#each KINDS as [kind, words] (kind)}
                {#if of(pieces, kind).length}
                  <p class="soft">{words}</p>
                  <ul class="max-h-32 overflow-auto">
                    {#each of(pieces, kind) as piece, i (i)}<li
                        class="truncate"
                        title={piece.words}
                      >
                        {piece.words}
                      </li>{/each}
                  </ul>
                {/if}
              {/each}
              {#if !pieces.length}<p class="soft">nothing</p>{/if}
            </section>
          {/each}
        </div>
      {/if}
      {#if !going && gone.length && now.state !== "failed"}
        <details>
          <summary class="cursor-pointer">The task that is left</summary>
          <pre class="mono max-h-60 overflow-auto" data-testid="small-task">{now.task}</pre>
        </details>
        <div>
          <Button kind="go" onclick={() => keep(now)} disabled={act.busy || !placing.value}
            >Keep as a task</Button
          >
        </div>
      {/if}
    {/if}
  </div>
</Dialog>
