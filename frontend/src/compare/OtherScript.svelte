<script lang="ts">
  /* Tasks that each side was judged by another script: both can be scored under today's. */
  import { api, ask } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import { counted } from "../values/text";

  interface Props {
    /** Suite and task of each, and an agent where whole runs are compared. */
    tasks: string[];
    ondone: () => void;
  }
  let { tasks, ondone }: Props = $props();
  const act = new Action();
  let done = $state(0);

  const bySuite = $derived.by(() => {
    const found: Record<string, string[]> = {};
    for (const [suite = "", task = ""] of tasks.map((name) => name.split("/")))
      if (!found[suite]?.includes(task)) (found[suite] ??= []).push(task);
    return Object.entries(found);
  });

  /** Each request scores one batch, so that others get on meanwhile. */
  function score() {
    return act.run(async () => {
      done = 0;
      for (const [suite, of] of bySuite)
        for (;;) {
          const body = { suite, tasks: of };
          const batch = await ask(api.POST("/api/suite/rescore", { body }));
          done += batch.done;
          if (!batch.done || !batch.left) break;
        }
      ondone();
    });
  }
</script>

<p class="text-sm text-doubt" data-testid="other-script">
  Not the same script: {counted(tasks.length, "task was", "tasks were")} judged by another on each side,
  and left out: {tasks.slice(0, 4).join(", ")}{tasks.length > 4 ? " …" : ""}.
  <Button kind="link" disabled={act.busy} onclick={score}
    >{act.busy
      ? `Scoring, ${counted(done, "trial")} done…`
      : "Score both under today’s script"}</Button
  >
</p>
<Fault message={act.fault} />
