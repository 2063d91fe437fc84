<script lang="ts">
  /* What came of a trial's forks, where they began: as it was, and with each change. */
  import { api, ask, type Progress, type Run } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import type { TrialView } from "../api/trace";
  import { watch } from "../api/watch";
  import Pips from "../board/Pips.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Sentence from "../values/Sentence.svelte";
  import { verdictColour } from "../values/text";
  import { type Forks, pointOf } from "./point";

  interface Props {
    view: TrialView;
    /** The run of forks that was started last. */
    started: Run | null;
    onchoose: (at: string) => void;
  }
  let { view, started, onchoose }: Props = $props();

  const reading = new Resource(() => {
    void started;
    const params = { path: { trial: view.trial.id } };
    return ask(api.GET("/api/trials/{trial}/forks", { params }));
  });
  const forks = $derived(reading.value?.forks ?? []);
  const points = $derived([...new Set(forks.map((f) => f.at))]);
  const going = $derived(
    forks.filter((f) => f.state === "running" || f.state === "waiting").map((f) => f.run),
  );
  let opened = $state<number | null>(null);

  const first = $derived(going[0]);
  $effect(() => {
    if (first === undefined) return;
    const read = () => void reading.read();
    return watch<Progress>("runs", first, { change: read, over: read });
  });

  const was = $derived(
    { pass: "passes", fail: "fails", error: "error" }[view.trial.verdict ?? ""] ?? "not judged",
  );
  const at = (point: string) => forks.filter((f) => f.at === point);
  const isGoing = (fork: Forks) => going.includes(fork.run);

  const pips = ({ passed, judged, errors, parted, left }: Forks) => ({
    passes: passed,
    n: judged,
    errors: errors + parted,
    running: 0,
    waiting: left,
  });
</script>

<Fault message={reading.fault} />
{#if forks.length}
  <section class="mb-1.5 text-sm" aria-label="Forks" data-testid="forks">
    {#each points as point (point)}
      <div class="flex flex-wrap items-baseline gap-x-4 gap-y-0.5">
        <Button kind="link" onclick={() => onchoose(point)}
          >from {pointOf(view, point)?.words ?? point}</Button
        >
        <span>as it was: {was}</span>
        {#each at(point) as fork (fork.run)}
          <Button
            kind="text"
            class="flex items-center gap-1.5"
            aria-expanded={opened === fork.run}
            title={fork.detail}
            onclick={() => (opened = opened === fork.run ? null : fork.run)}
            >{fork.words}{isGoing(fork) ? " …" : ""}
            <Pips cell={pips(fork)} going={isGoing(fork)} /></Button
          >
        {/each}
      </div>
      {#each at(point).filter((f) => f.run === opened) as fork (fork.run)}
        <div class="my-1 max-h-40 overflow-auto border-l-2 border-l-line pl-3" data-testid="opened">
          {#if fork.detail}<p class="soft mono truncate">{fork.detail}</p>{/if}
          {#if fork.not_repeated.length}
            <p class="text-doubt">
              The calls before were not made again at {fork.not_repeated.join(", ")}: it went on as
              it was.
            </p>
          {/if}
          {#each fork.unlike as line (line)}
            <p class="text-doubt">A mock was not in the state that it had been in: {line}</p>
          {/each}
          <ul>
            {#each fork.trials as trial (trial.id)}
              <li class="grid grid-cols-[5.5rem_4rem_6rem_minmax(0,1fr)] gap-x-2">
                <a class="underline underline-offset-2" href={`/trial/${trial.id}`}
                  >trial {trial.id}</a
                >
                <span class={verdictColour(trial.verdict)}>{trial.verdict ?? trial.state}</span>
                <span>
                  {#if trial.verdict === "pass" || trial.verdict === "fail"}
                    <a
                      class="underline underline-offset-2"
                      href={`/compare?view=trials&a=${view.trial.id}&b=${trial.id}`}>side by side</a
                    >
                  {/if}
                </span>
                <span class="soft truncate"
                  >{#if trial.went_wrong}<Sentence
                      words={trial.went_wrong}
                    />{:else}{trial.reason ?? ""}{/if}</span
                >
              </li>
            {/each}
          </ul>
          <a class="underline underline-offset-2" href={`/board/${fork.run}`}
            >all of it on the board, as run {fork.run}</a
          >
        </div>
      {/each}
    {/each}
  </section>
{/if}
