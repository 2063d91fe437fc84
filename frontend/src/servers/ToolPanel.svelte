<script lang="ts">
  /* One tool: its definition, a call by hand, what came of it and what came before. */
  import { Typed } from "../editor/typed.svelte";
  import { untrack } from "svelte";
  import type { Server, ToolDetail, CallByHand } from "../api/client";
  import type { Json } from "../values/json";
  import Differences from "../values/Differences.svelte";
  import { comparable, differences } from "../values/differences";
  import { counted, duration } from "../values/text";
  import Value from "../values/Value.svelte";
  import Answer from "./Answer.svelte";
  import ServerQuestion from "./ServerQuestion.svelte";
  import Definition from "./Definition.svelte";
  import Messages from "./Messages.svelte";
  import Reword from "./Reword.svelte";
  import SchemaForm from "./SchemaForm.svelte";
  import { initial, type Schema } from "./schema";
  import { HandCall } from "./handCall.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";

  interface Props {
    server: Server;
    tool: ToolDetail;
    onchanged: () => void;
  }
  let { server, tool, onchanged }: Props = $props();

  const given = $derived(tool.definition as Record<string, Json>);
  const name = $derived(String(given["name"]));
  const schema = $derived(tool.arguments as Schema);
  // Defaults of the schema to start with; after that the arguments are the user's.
  const typed = untrack(
    () =>
      new Typed(`arguments of ${server.server}/${name}`, {
        args: (initial(schema, schema) ?? {}) as Record<string, Json>,
      }),
  );
  const args = $derived(typed.fields.args);
  let raw = $state(false);
  let rewording = $state(false);
  let formFault = $state("");
  let against = $state<number | null>(null);
  const handCall = untrack(() => new HandCall(server.server, server.mode, name));
  const made = $derived(handCall.now);
  const progress = $derived(lastProgress(made));
  const lines = $derived((made?.log ?? []).filter((t) => t["log"] !== undefined));
  const other = $derived(handCall.earlier.find((t) => t.id === against) ?? null);
  const apart = $derived(
    other && made && made.state !== "running"
      ? differences(comparable(other.answer), comparable(made))
      : [],
  );

  $effect(() => void handCall.recall());

  function lastProgress(of: CallByHand | null): Record<string, unknown> | null {
    return (of?.log ?? []).findLast((t) => t["progress"] !== undefined) ?? null;
  }

  function when(at: number): string {
    return new Date(at * 1000).toLocaleString("en-GB", {
      day: "numeric",
      month: "short",
      hour: "2-digit",
      minute: "2-digit",
      second: "2-digit",
    });
  }

  const reads = $derived(tool.reads as Record<string, Json> | null);
  const changes = $derived(reads ? differences(given, reads) : []);
</script>

<div class="flex items-baseline gap-2.5">
  <h2 class="my-0 text-base">{name}</h2>
  {#if reads && reads["name"] !== name}
    <span class="soft">the agent reads <b>{reads["name"]}</b></span>
  {/if}
  <Button class="ml-auto" aria-pressed={rewording} onclick={() => (rewording = !rewording)}
    >Reword</Button
  >
</div>
<p class="soft max-h-32.5 mt-0.5 mb-2 overflow-auto whitespace-pre-wrap">
  {reads?.["description"] ?? given["description"] ?? "This tool has no description."}
</p>
{#if reads}
  <details data-testid="reworded">
    <summary class="soft">reworded for agents: what changed</summary>
    <Differences what={changes} old="the server's own" now="what agents read" />
  </details>
{/if}
{#if rewording}
  <Reword {server} {tool} ondone={() => ((rewording = false), onchanged())} />
{/if}
<Definition tool={given} />

<form
  onsubmit={(e) => {
    e.preventDefault();
    void handCall.call(args);
  }}
  data-testid="try"
>
  <SchemaForm
    {schema}
    {args}
    {raw}
    onset={(next, fault) => {
      typed.fields.args = next;
      formFault = fault;
    }}
  />
  <div class="flex flex-wrap items-center gap-x-2.5 gap-y-2 mt-2 whitespace-nowrap">
    {#if handCall.act.busy}
      <Button onclick={() => handCall.cancel()}>Cancel</Button>
      <span class="soft" aria-live="polite">calling…</span>
    {:else}
      <Button type="submit" kind="go" disabled={formFault !== ""}>Call it</Button>
    {/if}
    <Button onclick={() => (raw = !raw)}>{raw ? "As a form" : "As JSON"}</Button>
    {#if handCall.earlier.length}
      <label class="flex items-center gap-1.5 min-w-0 ml-auto text-sm">
        <span class="soft">earlier</span>
        <Choice
          class="max-w-52"
          aria-label="Earlier calls"
          onchange={(e) => {
            against = e.currentTarget.value ? Number(e.currentTarget.value) : null;
            const chosen = handCall.earlier.find((t) => t.id === against);
            if (chosen) typed.fields.args = chosen.args as Record<string, Json>;
          }}
        >
          <option value="">none</option>
          {#each handCall.earlier as t (t.id)}
            <option value={t.id} selected={t.id === against}>
              {when(t.at)} · {t.mode}{t.answer["error"] ? " · failed" : ""} · {JSON.stringify(
                t.args,
              ).slice(0, 40)}
            </option>
          {/each}
        </Choice>
      </label>
    {/if}
  </div>
</form>

<Fault message={handCall.act.fault} />
{#if made?.question}
  <ServerQuestion
    message={made.question.message}
    wants={made.question.wants as Schema}
    url={made.question.url}
    onanswer={(action, content) => void handCall.answer(action, content)}
  />
{/if}
{#if progress}
  <p data-testid="call-progress" class="flex items-center gap-2 my-2">
    {#if progress["total"]}
      <progress value={Number(progress["progress"])} max={Number(progress["total"])}></progress>
    {/if}
    {String(progress["text"] ?? "")}
    <span class="soft"
      >{String(progress["progress"])}{progress["total"]
        ? ` of ${String(progress["total"])}`
        : ""}</span
    >
  </p>
{/if}
{#if lines.length}
  <h3>The server's log</h3>
  {#each lines.slice(-8) as line, i (i)}
    <p class="flex gap-2">
      <span class="soft">{line["log"]}</span>
      <Value value={line["text"] as Json} />
    </p>
  {/each}
{/if}
{#if made && made.state !== "running"}
  <div data-testid="call-by-hand">
    <h3>
      {made.state === "cancelled" ? "It was cancelled" : made.error ? "It failed" : "It answered"}
      <span class="soft"
        >in {duration(made.ms)}{server.mode === "mock"
          ? " (mocked)"
          : server.mode === "recorded"
            ? " (recorded)"
            : ""}</span
      >
    </h3>
    {#if made.remark}<p class="mt-0.5 mb-2 wrap-anywhere text-doubt">{made.remark}</p>{/if}
    <Answer content={made.content} structured={made.structured} error={made.error} />
    {#if other}
      <h3>
        Against the try of {when(other.at)} <span class="soft">({other.mode})</span>
      </h3>
      {#if apart.length}
        <Differences what={apart} old="then" />
      {:else}
        <p class="soft mt-0.5 mb-2">The same answer.</p>
      {/if}
    {/if}
    {#if made.after}
      <h3>Its state</h3>
      {#each made.changes as change, i (i)}
        <p class="mt-0.5 mb-2">
          {change["op"] === "add" ? "added" : change["op"] === "remove" ? "removed" : "changed"}
          <span class="mono">{change["path"]}</span>
        </p>
        {#if change["op"] !== "remove"}<Value value={change["value"] as Json} />{/if}
      {:else}
        <p class="soft mt-0.5 mb-2">stayed as it was</p>
      {/each}
      <details>
        <summary class="soft">before</summary>
        <Value value={made.before as Json} />
      </details>
      <details>
        <summary class="soft">after</summary>
        <Value value={made.after as Json} />
      </details>
    {/if}
    <details>
      <summary class="soft">{counted(made.events.length, "raw message")}</summary>
      <Messages messages={made.events as never} />
    </details>
  </div>
{:else if other}
  <h3>
    The try of {when(other.at)} <span class="soft">({other.mode})</span>
  </h3>
  <Answer
    content={(other.answer["content"] ?? []) as Record<string, unknown>[]}
    structured={other.answer["structured"]}
    error={(other.answer["error"] ?? null) as string | null}
  />
{/if}
