<script lang="ts">
  /* A probe: model, start, tools, one harmless turn; each with the next thing to try. */
  import { onDestroy } from "svelte";
  import { api, ask, type AgentDetail, type Overrides, type Probe } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { watch } from "../api/watch";
  import Sentence from "../values/Sentence.svelte";
  import { shortTool } from "../values/text";
  import type { Offer } from "./offer";
  import Mark from "./Mark.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";

  interface Props {
    detail: AgentDetail;
    overrides: Overrides;
    offer: Offer | null;
  }
  let { detail, overrides, offer }: Props = $props();

  let probe = $state.raw<Probe | null>(null);
  const act = new Action();
  let unwatch = () => {};
  onDestroy(() => unwatch());

  const unlike = $derived(
    probe?.tools.filter((t) => t.as_name !== shortTool(t.address) || t.rewritten) ?? [],
  );

  function start() {
    probe = null;
    return act.run(async () => {
      const path = { agent: detail.line.agent };
      probe = await ask(
        api.POST("/api/agents/{agent}/probe", { params: { path }, body: { overrides, offer } }),
      );
      unwatch = watch<Probe>("probes", probe.id, { change: (now) => (probe = now) });
    });
  }
</script>

<div class="pt-2.5 pb-4 pl-4 border-l border-l-line overflow-auto text-sm">
  <p class="mb-2">
    <Button kind="go" onclick={start} disabled={probe?.doing != null} data-testid="probe">
      {probe?.doing != null ? "Probing…" : probe ? "Probe it again" : "Probe it"}
    </Button>
    <span class="soft" aria-live="polite">
      {probe?.doing ??
        (probe ? "" : "Looks at its model, starts it, and says one line. No tool is called.")}
    </span>
  </p>
  <Fault message={act.fault} class="mb-2" />
  {#if probe}
    <ol class="grid gap-1.25" data-testid="steps">
      {#each probe.steps as step, i (i)}
        <li class="grid items-baseline grid-cols-[16px_70px_minmax(0,1fr)] wrap-anywhere">
          <Mark ok={step.ok} />
          <span class="font-medium">{step.about}</span>
          <span>
            <Sentence words={step.message} />
            {#if step.advice}<span class="block text-soft"
                >Next: <Sentence words={step.advice} />.</span
              >{/if}
          </span>
        </li>
      {/each}
    </ol>
    {#if probe.reply !== null}
      <h2 class="mt-3.5">It replied</h2>
      <p data-testid="probe-reply" class="mb-2 pl-2 border-l-2 border-l-line whitespace-pre-wrap">
        {probe.reply || "(nothing)"}
      </p>
    {/if}
    {#if probe.remarks.length}
      <h2 class="mt-3.5">Worth knowing</h2>
      <ul class="pl-4.5 list-disc">
        {#each probe.remarks as remark (remark.kind + remark.text)}<li>{remark.text}</li>{/each}
      </ul>
    {/if}
    {#if unlike.length}
      <h2 class="mt-3.5">Tools that its model saw differently</h2>
      <Table>
        <thead>
          <tr
            ><th class="py-px pr-4.5 pl-0 font-normal text-soft text-left" scope="col">offered</th
            ><th class="py-px pr-4.5 pl-0 font-normal text-soft text-left" scope="col">shown as</th
            ><th class="py-px pr-4.5 pl-0 font-normal text-soft text-left" scope="col">schema</th
            ></tr
          >
        </thead>
        <tbody>
          {#each unlike as tool (tool.address)}
            <tr>
              <td class="py-px pr-4.5 pl-0 font-normal text-left">{tool.address}</td>
              <td
                class={[
                  "py-px pr-4.5 pl-0 font-normal text-left",
                  { "text-doubt": tool.as_name === null },
                ]}>{tool.as_name ?? "not shown"}</td
              >
              <td class="py-px pr-4.5 pl-0 font-normal text-left"
                >{tool.rewritten ? "rewritten" : "as it is"}</td
              >
            </tr>
          {/each}
        </tbody>
      </Table>
    {/if}
    {#if probe.own_tools.length}
      <p class="soft mb-2">Its own tools, which cross no seam: {probe.own_tools.join(", ")}</p>
    {/if}
    {#if probe.log.length}
      <details class="mt-3" open={probe.steps.some((s) => s.ok === false)}>
        <summary class="cursor-pointer">The end of its log</summary>
        <pre class="mono mt-1 whitespace-pre-wrap wrap-anywhere">{probe.log.join("\n")}</pre>
      </details>
    {/if}
  {/if}
</div>
