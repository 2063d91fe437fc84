<script lang="ts">
  /* A probe: model, start, tools, one harmless turn; each with the next thing to try. */
  import { onDestroy } from "svelte";
  import { api, ask, type AgentDetail, type Overrides, type Probe } from "../api/client";
  import { watch } from "../api/watch";
  import Sentence from "../values/Sentence.svelte";
  import { shortTool } from "../values/text";
  import Mark from "./Mark.svelte";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";

  let { detail, overrides }: { detail: AgentDetail; overrides: Overrides } = $props();

  let probe = $state.raw<Probe | null>(null);
  let fault = $state("");
  let unwatch = () => {};
  onDestroy(() => unwatch());

  const unlike = $derived(
    probe?.tools.filter((t) => t.as_name !== shortTool(t.address) || t.rewritten) ?? [],
  );

  async function start() {
    fault = "";
    try {
      const path = { agent: detail.line.agent };
      probe = await ask(
        api.POST("/api/agents/{agent}/probe", { params: { path }, body: { overrides } }),
      );
      unwatch = watch<Probe>("probes", probe.id, { change: (now) => (probe = now) });
    } catch (error) {
      fault = (error as Error).message;
      probe = null;
    }
  }
</script>

<div class="probe">
  <p>
    <Button kind="go" onclick={start} disabled={probe?.doing != null} data-testid="probe">
      {probe?.doing != null ? "Probing…" : probe ? "Probe it again" : "Probe it"}
    </Button>
    <span class="soft" aria-live="polite">
      {probe?.doing ??
        (probe ? "" : "Looks at its model, starts it, and says one line. No tool is called.")}
    </span>
  </p>
  {#if fault}<p class="text-broke" role="alert">{fault}</p>{/if}
  {#if probe}
    <ol data-testid="steps">
      {#each probe.steps as step, i (i)}
        <li>
          <Mark ok={step.ok} />
          <span class="about">{step.about}</span>
          <span>
            <Sentence words={step.message} />
            {#if step.advice}<span class="then">Next: <Sentence words={step.advice} />.</span>{/if}
          </span>
        </li>
      {/each}
    </ol>
    {#if probe.reply !== null}
      <h2>It replied</h2>
      <p class="reply">{probe.reply || "(nothing)"}</p>
    {/if}
    {#if probe.remarks.length}
      <h2>Worth knowing</h2>
      <ul>
        {#each probe.remarks as remark (remark.kind + remark.text)}<li>{remark.text}</li>{/each}
      </ul>
    {/if}
    {#if unlike.length}
      <h2>Tools that its model saw differently</h2>
      <Table>
        <thead>
          <tr
            ><th scope="col">offered</th><th scope="col">shown as</th><th scope="col">schema</th
            ></tr
          >
        </thead>
        <tbody>
          {#each unlike as tool (tool.address)}
            <tr>
              <td>{tool.address}</td>
              <td class={{ "text-doubt": tool.as_name === null }}>{tool.as_name ?? "not shown"}</td>
              <td>{tool.rewritten ? "rewritten" : "as it is"}</td>
            </tr>
          {/each}
        </tbody>
      </Table>
    {/if}
    {#if probe.own_tools.length}
      <p class="soft">Its own tools, which cross no seam: {probe.own_tools.join(", ")}</p>
    {/if}
    {#if probe.log.length}
      <details open={probe.steps.some((s) => s.ok === false)}>
        <summary>The end of its log</summary>
        <pre class="mono">{probe.log.join("\n")}</pre>
      </details>
    {/if}
  {/if}
</div>

<style>
  .probe {
    overflow: auto;
    border-left: 1px solid var(--line);
    padding: 10px 0 16px 16px;
    font-size: 12.5px;
  }
  p {
    margin: 0 0 8px;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 5px;
  }
  ol li {
    display: grid;
    grid-template-columns: 16px 70px minmax(0, 1fr);
    align-items: baseline;
    overflow-wrap: anywhere;
  }
  .about {
    font-weight: 550;
  }
  .then {
    display: block;
    color: var(--soft);
  }
  h2 {
    font-size: 12.5px;
    font-weight: 600;
    margin: 14px 0 3px;
  }
  ul {
    margin: 0;
    padding-left: 18px;
    list-style: disc;
  }
  .reply {
    white-space: pre-wrap;
    border-left: 2px solid var(--line);
    padding-left: 8px;
  }
  th,
  td {
    text-align: left;
    font-weight: 400;
    padding: 1px 18px 1px 0;
  }
  th {
    color: var(--soft);
  }
  details {
    margin-top: 12px;
  }
  summary {
    cursor: pointer;
  }
  pre {
    white-space: pre-wrap;
    overflow-wrap: anywhere;
    margin: 4px 0 0;
  }
</style>
