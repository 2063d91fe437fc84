<script lang="ts">
  /* One call, made both ways: the two answers, and where they differ. */
  import { untrack } from "svelte";
  import { api, ask, type CallByHand, type Server } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Differences from "../values/Differences.svelte";
  import { comparable, differences } from "../values/differences";
  import type { Json } from "../values/json";
  import { duration } from "../values/text";
  import Answer from "./Answer.svelte";
  import { HandCall } from "./handCall.svelte";
  import { initial, type Schema } from "./schema";
  import SchemaForm from "./SchemaForm.svelte";
  import ServerQuestion from "./ServerQuestion.svelte";

  interface Props {
    server: Server;
    other: string;
    tool: string;
  }
  let { server, other, tool }: Props = $props();

  const definition = new Resource(() => {
    const params = { path: { server: server.server }, query: { mode: server.mode, tool } };
    return ask(api.GET("/api/servers/{server}/tool", { params }));
  });
  const schema = $derived((definition.value?.arguments ?? null) as Schema | null);
  const calls = untrack(() =>
    [server.mode, other].map((mode) => new HandCall(server.server, mode, tool)),
  );
  let given = $state.raw<Record<string, Json> | null>(null);
  const args = $derived(
    given ?? ((schema ? (initial(schema, schema) ?? {}) : {}) as Record<string, Json>),
  );
  let mistake = $state("");
  const hints = $derived(definition.value?.definition["annotations"] as Json | undefined);
  const onlyReads = $derived(
    typeof hints === "object" && hints !== null && "readOnlyHint" in hints && hints["readOnlyHint"],
  );
  const reached = $derived(
    [server.mode, other].filter((mode) => mode !== "mock" && mode !== "recorded"),
  );
  const busy = $derived(calls.some((call) => call.act.busy));
  const answers = $derived(calls.map((call) => call.now));
  const over = (call: CallByHand | null | undefined) => call && call.state !== "running";
  const apart = $derived(
    answers[0] && answers[1] && answers.every(over)
      ? differences(comparable(answers[0]), comparable(answers[1]))
      : null,
  );

  function call() {
    for (const one of calls) void one.call(args);
  }
</script>

<h3>One call, both ways</h3>
<Fault message={definition.fault} />
{#if schema}
  <form
    data-testid="beside-call"
    onsubmit={(e) => {
      e.preventDefault();
      call();
    }}
  >
    <SchemaForm
      {schema}
      {args}
      raw={false}
      onset={(next, fault) => {
        given = next;
        mistake = fault;
      }}
    />
    {#if reached.length && !onlyReads}
      <p class="mt-1.5 text-sm text-doubt">
        It does not say that it only reads: what it does {reached.join(" and ")} is done for real.
      </p>
    {/if}
    <Button type="submit" kind="go" class="mt-2" disabled={busy || mistake !== ""}
      >{busy ? "Calling…" : "Call it both ways"}</Button
    >
  </form>
{/if}
<div class="mt-2 grid grid-cols-2 gap-4" data-testid="beside-answers">
  {#each calls as one (one.mode)}
    <div class="min-w-0 overflow-x-auto">
      <Fault message={one.act.fault} />
      {#if one.now}
        <h4>
          {one.mode}{one.now.state === "running" ? "" : `, ${duration(one.now.ms)}`}
        </h4>
        {#if one.now.question}
          <ServerQuestion
            message={one.now.question.message}
            wants={one.now.question.wants as Schema}
            url={one.now.question.url}
            onanswer={(action, content) => void one.answer(action, content)}
          />
        {:else if one.now.state !== "running"}
          <Answer content={one.now.content} structured={one.now.structured} error={one.now.error} />
        {/if}
      {/if}
    </div>
  {/each}
</div>
{#if apart}
  {#if apart.length}
    <h3>Where the answers differ</h3>
    <Differences what={apart} old={server.mode} now={other} />
  {:else}
    <p class="mt-2 text-holds">Both answered the same.</p>
  {/if}
{/if}
