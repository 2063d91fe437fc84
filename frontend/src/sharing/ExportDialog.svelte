<script lang="ts">
  /* A run's trials for other programs: written, followed, and kept; or sent to a collector. */
  import { onDestroy } from "svelte";
  import { api, ask, type Export, type ExportFormat } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";
  import { counted } from "../values/text";
  import JobBar from "./JobBar.svelte";
  import { keepFile } from "./keeping";

  let { run, onclose }: { run: number; onclose: () => void } = $props();
  const FORMATS: { form: ExportFormat; name: string; about: string }[] = [
    { form: "junit", name: "JUnit XML", about: "for a build server: a case for each task" },
    { form: "csv", name: "Table (CSV)", about: "a line for each trial" },
    { form: "results", name: "Results", about: "JSON lines: every check of each trial" },
    { form: "baseline", name: "Baseline", about: "a line for each cell, to keep beside the code" },
    { form: "traces", name: "Traces", about: "JSON lines: all that happened in each trial" },
    { form: "otlp", name: "OpenTelemetry", about: "spans as OTLP/JSON, or sent to a collector" },
    { form: "run", name: "Whole run", about: "for ferox gather on another machine" },
  ];
  let format = $state<ExportFormat>("junit");
  let eachTrial = $state(false);
  let to = $state("");
  let job = $state.raw<Export | null>(null);
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => unwatch());
  const chosen = $derived(FORMATS.find((one) => one.form === format));
  const sends = $derived(format === "otlp" && to.trim() !== "");
  const going = $derived(job?.state === "running");

  function start() {
    return act.run(async () => {
      unwatch();
      const body = {
        format,
        each_trial: eachTrial && format === "junit",
        to: sends ? to.trim() : null,
      };
      const begun = await ask(
        api.POST("/api/runs/{run}/exports", { params: { path: { run } }, body }),
      );
      heard(begun);
      if (begun.state === "running")
        unwatch = watch<Export>("exports", begun.id, { change: heard });
    });
  }

  function heard(now: Export) {
    const fresh = job?.id !== now.id || job.state === "running";
    job = now;
    if (fresh && now.state === "done" && !sends) keepFile(`/api/exports/${now.id}/file`, now.name);
  }

  function stop() {
    const number = job?.id;
    if (number)
      void act.run(async () => {
        await ask(api.POST("/api/exports/{number}/stop", { params: { path: { number } } }));
      });
  }
</script>

<Dialog title={`Export run ${run}`} {onclose}>
  <div data-testid="export">
    <p class="flex flex-wrap items-center gap-3 mb-2">
      <label
        >Format
        <Choice bind:value={format} disabled={going}>
          {#each FORMATS as one (one.form)}<option value={one.form}>{one.name}</option>{/each}
        </Choice>
      </label>
      <span class="text-sm text-soft">{chosen?.about}</span>
    </p>
    {#if format === "junit"}
      <p class="mb-2"><Tick bind:checked={eachTrial}>a case for each trial</Tick></p>
    {:else if format === "otlp"}
      <p class="mb-2">
        <label
          >Send to
          <Field
            bind:value={to}
            class="w-90!"
            placeholder="http://127.0.0.1:4318"
            disabled={going}
          /></label
        >
        <span class="text-sm text-soft">a collector’s address; left empty, a file</span>
      </p>
    {/if}
    <p class="flex items-center gap-3">
      <Button kind="go" onclick={start} disabled={going || act.busy}
        >{sends ? "Send" : "Export"}</Button
      >
      {#if going}<Button onclick={stop}>Stop</Button>{/if}
    </p>
    <Fault message={act.fault || (job?.state === "failed" ? job.message : "")} />
    {#if job && job.state !== "failed"}
      {@const now = job}
      <JobBar job={now} noun="trials" />
      <p class="text-sm" role="status">
        {#if now.state === "done" && now.message}{now.message}.
        {:else if now.state === "done"}
          {counted(now.total, "trial")} in
          <a href={`/api/exports/${now.id}/file`} download={now.name}>{now.name}</a>.
        {:else if now.state === "stopped"}Stopped: nothing was kept.
        {/if}
      </p>
    {/if}
  </div>
</Dialog>
