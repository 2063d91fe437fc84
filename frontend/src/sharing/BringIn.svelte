<script lang="ts">
  /* Traces from elsewhere: dropped or chosen, sent, judged, and shown as a run. */
  import { onDestroy } from "svelte";
  import { api, ask, type Bringing } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import Button from "../kit/Button.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import FileDrop from "../kit/FileDrop.svelte";
  import { counted } from "../values/text";
  import JobBar from "./JobBar.svelte";
  import { sendFile } from "./sending";

  interface Props {
    /** A file that was dropped on the board. */
    dropped: File | null;
    onclose: () => void;
    onbrought: () => void;
  }
  let { dropped, onclose, onbrought }: Props = $props();
  let chosen = $state.raw<File | null>(null);
  const file = $derived(chosen ?? dropped);
  let agent = $state("");
  let task = $state("");
  let clock = $state("");
  let job = $state.raw<Bringing | null>(null);
  let sent = $state(0);
  let stopped = $state(false);
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => {
    stopped = true;
    unwatch();
  });
  const going = $derived(act.busy || job?.state === "running");

  function take(one: File) {
    chosen = one;
    job = null;
  }

  function start() {
    if (!file) return;
    const sending = file;
    stopped = false;
    sent = 0;
    job = null;
    return act.run(async () => {
      const begun = await sendFile(
        sending,
        (bytes) => (sent = bytes),
        () => stopped,
      );
      const params = { path: { number: begun.id } };
      if (stopped) {
        await ask(api.POST("/api/bringings/{number}/stop", { params }));
        return;
      }
      const body = { agent: agent || null, task: task || null, clock: clock || null };
      const started = await ask(api.POST("/api/bringings/{number}/start", { params, body }));
      heard(started);
      if (started.state === "running")
        unwatch = watch<Bringing>("bringings", started.id, { change: heard });
    });
  }

  function heard(now: Bringing) {
    const fresh = job?.state !== "done";
    job = now;
    if (fresh && now.state === "done") onbrought();
  }

  function stop() {
    stopped = true;
    const number = job?.id;
    if (number)
      void ask(api.POST("/api/bringings/{number}/stop", { params: { path: { number } } }));
  }
</script>

<Dialog title="Bring in traces" {onclose}>
  <div data-testid="bring-in">
    <p class="mb-3 text-sm text-soft">
      Of agents that ran elsewhere: Ferox’s traces, or OpenTelemetry spans as OTLP/JSON. They are
      judged by this workspace’s scripts; what they do not tell is not tested.
    </p>
    <FileDrop {file} label="File of traces" onfile={take} />
    <div class="grid grid-cols-3 gap-3 mb-3 max-md:block text-sm">
      <label>Agent’s name<Field wide bind:value={agent} placeholder="as the traces say" /></label>
      <label>Task<Field wide bind:value={task} placeholder="by the user’s first words" /></label>
      <label
        >What it took for now<Field
          wide
          bind:value={clock}
          placeholder="when each began, or suite"
        /></label
      >
    </div>
    <p class="flex items-center gap-3">
      <Button kind="go" onclick={start} disabled={!file || going}>Bring in</Button>
      {#if going}<Button onclick={stop}>Stop</Button>{/if}
      {#if act.busy && file}
        <span class="text-sm text-soft"
          >sending {Math.round((100 * sent) / (file.size || 1))} %</span
        >
      {/if}
    </p>
    <Fault message={act.fault || (job?.state === "failed" ? job.message : "")} />
    {#if job}
      {@const now = job}
      <JobBar job={now} noun="trials judged" />
      {#if now.state === "stopped"}<p role="status">Stopped: nothing was brought in.</p>{/if}
      {#if now.state === "done" && now.run !== null}
        <p class="my-2" role="status">
          {counted(now.trials, "trial")} brought in, {now.passes} of {now.judged} passed:
          <a href={`/board/${now.run}`} onclick={onclose}>run {now.run}</a>.
        </p>
        {#each now.by_words as line, i (i)}<p class="text-sm text-doubt">{line}</p>{/each}
      {/if}
      {#if now.left_out.length}
        <p class="mt-2 text-sm">Left out:</p>
        <ul class="max-h-40 overflow-auto pl-4.5 list-disc text-sm mono">
          {#each now.left_out as line, i (i)}<li class="wrap-anywhere">{line}</li>{/each}
        </ul>
      {/if}
    {/if}
  </div>
</Dialog>
