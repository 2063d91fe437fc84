<script lang="ts">
  import { messageOf } from "../api/resource.svelte";
  import { api, ask } from "../api/client";
  import { type CallEvent, callsOf, proposerOf, type TrialView, hasVoices } from "../api/trace";
  import type { Json } from "../values/json";
  import { differences } from "../values/differences";
  import { duration } from "../values/text";
  import Brought from "../values/Brought.svelte";
  import Value from "../values/Value.svelte";
  import Whole from "./Whole.svelte";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";

  let { view, chosen }: { view: TrialView; chosen: string | null } = $props();
  let raw = $state(false);
  let wire = $state.raw<{ of: string; request: string; answer: string; fault: string } | null>(
    null,
  );

  const event = $derived(callsOf(view.trace).find((e) => e.id === chosen));
  const place = $derived(event ? view.trace.events.indexOf(event) : -1);
  const name = $derived.by(() => {
    if (chosen?.startsWith("=")) return chosen.slice(1);
    const matched = Object.entries(view.result?.matched ?? {});
    return matched.find(([, ids]) => chosen && ids.includes(chosen))?.[0] ?? null;
  });
  const expected = $derived(view.expected.find((e) => e.name === name));
  const missing = $derived(view.result?.missing.find((m) => m.name === name));
  const tool = $derived(event?.tool ?? expected?.tool ?? "");
  const schema = $derived(
    (view.trace.tools?.[tool]?.input ?? {}) as {
      properties?: Record<string, { type?: string; format?: string }>;
      required?: string[];
    },
  );
  const mode = $derived(view.trace.modes?.[tool.split("/")[0] ?? ""]);
  const given = $derived((event?.args ?? {}) as Record<string, Json>);
  const names = $derived([
    ...new Set([
      ...Object.keys(expected?.args ?? {}),
      ...Object.keys(given),
      ...(schema.required ?? []),
    ]),
  ]);
  const checks = $derived(
    (view.result?.checks ?? []).filter((c) => c.calls.includes(chosen ?? "")),
  );
  const proposer = $derived(event ? proposerOf(view.trace, event) : undefined);
  const proposal = $derived(proposer?.proposed?.find((p) => p.id === event?.proposal) ?? null);
  const voice = $derived(proposer?.voice ?? event?.by);
  const several = $derived(hasVoices(view.trace));
  const hold = $derived(
    view.trace.events.filter((e) => e.kind === "hold").find((e) => event && e.call === event.id),
  );
  const differs = $derived(
    proposal && event ? differences(proposal.args, event.args ?? null).length > 0 : false,
  );
  const seen = $derived.by(() => {
    const shown = view.trace.seen_by_model?.[tool];
    return shown && (shown.name || shown.input) ? shown : null;
  });
  const called = $derived(view.result?.checks.find((c) => c.id === `${name}.called`));
  const own = $derived(tool.startsWith("own/"));

  /** A message indented, if it is JSON; an event stream line by line. */
  function pretty(text: string): string {
    try {
      return JSON.stringify(JSON.parse(text), null, 1);
    } catch {
      return text
        .split("\n")
        .filter((line) => line.trim())
        .map((line) =>
          line.startsWith("data: {") ? `data: ${pretty(line.slice(6))}` : line.trimEnd(),
        )
        .join("\n");
    }
  }

  function wrong(argument: string): string | null {
    const check = checks.find((c) => c.id.endsWith(`.args.${argument}`) && c.passed === false);
    return check?.message ?? null;
  }

  /** The messages as they stood on the wire. */
  async function readWire(call: string) {
    if (wire?.of === call) {
      wire = null;
      return;
    }
    const params = { path: { trial: view.trial.id, call } };
    try {
      const messages = await ask(api.GET("/api/trials/{trial}/wire/{call}", { params }));
      wire = { of: call, ...messages, fault: "" };
    } catch (error) {
      wire = { of: call, request: "", answer: "", fault: messageOf(error) };
    }
  }

  function came(event: CallEvent): string {
    if (event.seam === "model") return "not called";
    if (event.error) return event.error.kind.replaceAll("_", " ");
    return event.s === null ? "never answered" : "answered";
  }
</script>

{#if !tool}
  <p class="soft mt-0.5 mb-2">
    Choose a call or a request to the model on the tracks, or a call in the conversation; ← and →
    step through the calls.
  </p>
{:else}
  <h3 class="my-0 text-base">
    {tool}
    {#if view.trace.tools?.[tool]?.name}
      <span class="soft">the agent reads <b>{view.trace.tools[tool]?.name}</b></span>
    {/if}
    {#if mode && mode !== "mock"}<span class="soft">{mode}</span>{/if}
  </h3>
  {#if event?.nearest}
    <p class="text-doubt mt-0.5 mb-2">
      Not recorded with these arguments: this is the answer to the nearest call that was.
    </p>
  {/if}
  {#if !event}
    <p class="text-broke mt-0.5 mb-2">
      {missing
        ? (called?.message ?? missing.why.replaceAll("_", " "))
        : "Not called; it is optional."}
    </p>
  {/if}
  <p class="soft mt-0.5 mb-2 text-sm">
    {view.trace.tools?.[tool]?.description ??
      (own
        ? "One of the agent’s own tools; its description was not seen."
        : view.trace.not_seen?.includes("offers")
          ? "Which tools the agent was offered was not seen."
          : "The agent was not offered this tool.")}
  </p>

  {#if names.length}
    <Table wide>
      <thead>
        <tr>
          <th
            class="py-0.5 pr-2.5 pl-0 border-b border-b-line font-normal text-soft text-left align-top"
            scope="col">argument</th
          >
          {#if event}<th
              class="py-0.5 pr-2.5 pl-0 border-b border-b-line font-normal text-soft text-left align-top"
              scope="col">given</th
            >{/if}
          <th
            class="py-0.5 pr-2.5 pl-0 border-b border-b-line font-normal text-soft text-left align-top"
            scope="col">expected</th
          >
        </tr>
      </thead>
      <tbody>
        {#each names as argument (argument)}
          {@const fault = wrong(argument)}
          {@const shape = schema.properties?.[argument]}
          <tr class={{ wrong: fault !== null }} title={fault}>
            <th class="py-0.5 pr-2.5 pl-1.5 font-medium text-left align-top" scope="row">
              {argument}
              <span class="soft block text-xs font-normal">
                {shape
                  ? (shape.format ?? shape.type ?? "any")
                  : own && !schema.properties
                    ? "schema not seen"
                    : "not in the schema"}{schema.required?.includes(argument) ? ", required" : ""}
              </span>
            </th>
            {#if event}<td class="py-0.5 pr-2.5 pl-0 font-normal text-left align-top"
                ><Value value={given[argument]} depth={1} /></td
              >{/if}
            <td class="py-0.5 pr-2.5 pl-0 font-normal text-left align-top"
              >{expected?.descriptions[argument] ?? ""}</td
            >
          </tr>
        {/each}
      </tbody>
    </Table>
  {/if}

  {#if event}
    <ol class="way flex mt-2.5 mb-1 text-sm" aria-label="The way of this call">
      <li class={{ unseen: !proposal }}>
        {proposal
          ? "proposed"
          : view.trace.model_seam === false
            ? "proposal not seen"
            : "no model proposed it as a tool call"}{several && voice ? ` by ${voice}` : ""}
      </li>
      {#if hold}<li class="text-doubt">
          held {hold.s == null ? "" : duration(hold.s * 1000)}
        </li>{/if}
      <li class={{ unseen: event.error?.kind === "denied" }}>
        {event.error?.kind === "denied"
          ? "denied"
          : event.seam === "local"
            ? `ran inside the agent${event.hides ? `; hides ${event.hides}` : ""}`
            : event.seam === "model"
              ? "refused by the framework"
              : event.by_hand === "answer" || event.by_hand === "fail"
                ? "answered by hand"
                : "dispatched"}
      </li>
      <li class={{ "text-broke": Boolean(event.error) || event.s === null }}>
        {came(event)}{event.s != null && !event.not_seen?.includes("times")
          ? ` in ${duration(event.s * 1000)}`
          : ""}
      </li>
    </ol>
    {#if proposal && differs}
      <p class="text-doubt mt-0.5 mb-2">
        What went out is not what was proposed: {typeof proposal.args === "string"
          ? "the arguments were not JSON"
          : JSON.stringify(proposal.args)}
      </p>
    {/if}
    {#if seen}
      <p class="soft mt-0.5 mb-2 text-sm">
        Its model saw this tool {seen.name ? `as ${seen.name}` : ""}{seen.name && seen.input
          ? ", "
          : ""}{seen.input ? "with a rewritten schema" : ""}.
      </p>
    {/if}
    {#if event.id && view.injected[event.id]}
      <p class="text-doubt mt-0.5 mb-2" data-testid="injected">{view.injected[event.id]}</p>
    {/if}
    {#if event.error}
      <p class="text-broke mt-0.5 mb-2 whitespace-pre-wrap wrap-anywhere">{event.error.message}</p>
    {:else if event.s !== null}
      <h4>Result</h4>
      <Brought {event} />
      {#if view.long.includes(place)}
        <Whole trial={view.trial.id} {place} fields={["args", "result", "content"]} />
      {/if}
    {/if}
    <Button kind="link" onclick={() => (raw = !raw)} aria-expanded={raw}>
      {raw ? "Hide the event" : "The event as stored"}
    </Button>
    {#if event.seam === "tool" && event.id}
      {@const id = event.id}
      <Button kind="link" onclick={() => readWire(id)} aria-expanded={wire?.of === id}>
        {wire?.of === id ? "Hide the raw messages" : "Raw messages"}
      </Button>
    {/if}
    {#if raw}<pre class="mono whitespace-pre-wrap wrap-anywhere">{JSON.stringify(
          event,
          null,
          1,
        )}</pre>{/if}
    {#if wire && wire.of === event.id}
      {#if wire.fault}
        <p class="soft mt-0.5 mb-2">{wire.fault}</p>
      {:else}
        <h4>to the server</h4>
        <pre class="mono whitespace-pre-wrap wrap-anywhere" data-testid="wire">{pretty(
            wire.request,
          )}</pre>
        <h4>to the client</h4>
        <pre class="mono whitespace-pre-wrap wrap-anywhere">{wire.answer
            ? pretty(wire.answer)
            : "(not kept: nothing came, or a fault struck on the wire itself)"}</pre>
      {/if}
    {/if}
  {/if}
{/if}

<style>
  .wrong th {
    box-shadow: inset 3px 0 var(--doubt);
  }
  .wrong td {
    color: var(--doubt);
  }

  .way li + li::before {
    content: "→";
    color: var(--soft);
    margin: 0 8px;
  }
  .unseen {
    color: var(--soft);
  }
</style>
