<script lang="ts">
  /* A look at a model: is it there, does it take tools, how much does it read, what does it cost? */
  import { onDestroy } from "svelte";
  import Mark from "../agents/Mark.svelte";
  import { api, ask, type ModelLook } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Sentence from "../values/Sentence.svelte";

  let { name }: { name: string } = $props();
  let look = $state.raw<ModelLook | null>(null);
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => unwatch());

  function start() {
    return act.run(async () => {
      unwatch();
      const params = { path: { model: name } };
      look = await ask(api.POST("/api/models/{model}/look", { params }));
      unwatch = watch<ModelLook>("looks", look.id, { change: (now) => (look = now) });
    });
  }

  function stop() {
    return act.run(async () => {
      if (!look) return;
      const params = { path: { number: look.id } };
      await ask(api.POST("/api/looks/{number}/stop", { params }));
    });
  }
</script>

<div class="mt-4 pt-3 border-t border-t-line text-sm" data-testid="model-test">
  <p class="flex items-center gap-3">
    <Button onclick={start} disabled={look?.going || act.busy}
      >{look?.going ? "Testing…" : look ? "Test it again" : "Test it"}</Button
    >
    {#if look?.going}
      <Button onclick={stop}>Stop</Button>
    {:else if !look}
      <span class="soft"
        >Is it there, does it take tools, how much does it read, what does it cost: two small
        requests at most.</span
      >
    {/if}
  </p>
  <Fault message={act.fault} />
  {#if look}
    <ol class="grid gap-1.25 mt-2" aria-live="polite">
      {#each look.findings as one, i (i)}
        <li class="grid items-baseline grid-cols-[16px_minmax(0,1fr)] wrap-anywhere">
          <Mark ok={one.ok} />
          <span>
            <Sentence words={one.message} />
            {#if one.advice}<span class="block text-soft"
                >Next: <Sentence words={one.advice} />.</span
              >{/if}
          </span>
        </li>
      {/each}
    </ol>
  {/if}
</div>
