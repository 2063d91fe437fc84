<script lang="ts">
  /* The exchanges of one recording: browsed a page at a time, chosen, cut, edited. */
  import { untrack } from "svelte";
  import { Typed } from "../editor/typed.svelte";
  import {
    api,
    ask,
    type Exchange,
    type Recording,
    type RecordingLine,
    type Server,
  } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import type { Json } from "../values/json";
  import { putDraft, taskToReview } from "../editor/drafts";
  import { counted, duration } from "../values/text";
  import Content from "../values/Content.svelte";
  import Value from "../values/Value.svelte";
  import { address } from "../address.svelte";
  import Answer from "./Answer.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import Table from "../kit/Table.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import Tick from "../kit/Tick.svelte";

  interface Props {
    server: Server;
    file: string;
    captured: boolean;
    others: RecordingLine[];
    onkept: (file: string) => void;
    ondrift: () => void;
  }
  let { server, file, captured, others, onkept, ondrift }: Props = $props();

  let start = $state(0);
  const reading = new Resource<Recording>(() =>
    ask(api.GET("/api/recording", { params: { query: { file, start } } })),
  );
  const shown = $derived(reading.value);
  const act = new Action();
  let open = $state<number | null>(null);
  let chosen = $state.raw<readonly number[]>([]);
  let all = $state(false);
  const typed = untrack(() => new Typed(`answer in ${file}`, { number: 0, answer: "" }));
  let name = $state("");
  let other = $state("");

  const listed = $derived((shown?.exchanges ?? []).filter((e) => all || e.method === "tools/call"));
  const live = $derived(server.modes.some((m) => m !== "mock" && m !== "recorded"));

  const cut = () =>
    act.run(async () => {
      const body = { file, keep: [...chosen], name };
      onkept((await ask(api.POST("/api/recording/cut", { body }))).name);
    });
  const merge = () =>
    act.run(async () => {
      onkept((await ask(api.POST("/api/recording/merge", { body: { file, other, name } }))).name);
    });
  const save = (number: number) =>
    act.run(async () => {
      const answer = JSON.parse(typed.fields.answer) as Record<string, unknown>;
      reading.put(await ask(api.POST("/api/recording/edit", { body: { file, number, answer } })));
      typed.clear();
    });
  const mock = () =>
    act.run(async () => {
      const params = { path: { server: server.server } };
      const body = { source: "recording" as const, recording: file, mode: null, text: null };
      const made = await ask(api.POST("/api/servers/{server}/mock", { params, body }));
      putDraft(made.name, { ...made, note: "A mock was made; it is not saved yet." });
      address.go(`/servers/${server.server}?view=file`);
    });

  /** The session of the first chosen call, else of the first call there is. */
  const session = $derived(
    (shown?.exchanges.find((e) => chosen.includes(e.number)) ?? listed[0])?.session ?? null,
  );
  const task = () =>
    act.run(async () => {
      if (session === null) return;
      const into = { file: `tasks/${server.server}-recorded.yaml`, task: `session-${session}` };
      const body = { recording: file, session, ...into };
      address.go(taskToReview(await ask(api.POST("/api/recording/draft", { body }))));
    });

  function toggle(number: number) {
    chosen = chosen.includes(number) ? chosen.filter((n) => n !== number) : [...chosen, number];
  }

  function result(exchange: Exchange): Record<string, unknown> | null {
    return (exchange.answer?.["result"] ?? null) as Record<string, unknown> | null;
  }

  function failed(exchange: Exchange): string | null {
    const error = exchange.answer?.["error"] as { message?: string } | undefined;
    if (error) return error.message ?? "protocol error";
    const answer = result(exchange);
    if (!answer?.["isError"]) return null;
    const content = (answer["content"] ?? []) as { text?: string }[];
    return content[0]?.text ?? "the tool says that it failed";
  }
</script>

<Fault message={act.fault || reading.fault} />
{#if shown}
  <div class="flex flex-wrap items-center gap-2.5 mb-1 text-sm">
    <span>
      {counted(shown.total, "exchange")} in {counted(shown.sessions, "session")}, MCP
      {shown.header["protocol"] ?? "unknown"} over {shown.header["transport"]}
    </span>
    <Tick class="text-soft" bind:checked={all}>not only calls</Tick>
    <span class="flex gap-2 ml-auto">
      <Button onclick={mock}>Make a mock of it</Button>
      {#if session !== null}
        <Button onclick={task}>Make a task of session {session}</Button>
      {/if}
      {#if live}<Button onclick={ondrift}>Is it still so?</Button>{/if}
    </span>
  </div>
  {#if shown.left_open.length}
    <p class="my-0.5 text-doubt">
      Never answered: a request in session {shown.left_open.join(", ")}.
    </p>
  {/if}
  <Table fixed data-testid="exchanges">
    <tbody>
      {#each listed as e (e.number)}
        {@const wrong = failed(e)}
        <tr class={{ open: open === e.number }}>
          <td class="py-1.25 pr-2 pl-0 border-b border-b-faint align-top"
            ><Tick
              label={`Choose exchange ${e.number}`}
              checked={chosen.includes(e.number)}
              onchange={() => toggle(e.number)}
            /></td
          >
          <td
            class="soft py-1.25 pr-2 pl-0 border-b border-b-faint whitespace-nowrap text-right align-top"
            >{e.t.toFixed(2)} s</td
          >
          <td class="py-1.25 pr-2 pl-0 border-b border-b-faint align-top">
            <Button
              kind="text"
              class={open === e.number ? "" : "w-full truncate"}
              onclick={() => (open = open === e.number ? null : e.number)}
            >
              <b>{e.params["name"] ?? e.method}</b>
              <span class="mono soft">{JSON.stringify(e.params["arguments"] ?? {})}</span>
            </Button>
          </td>
          <td
            class={[
              "py-1.25 pr-2 pl-0 border-b border-b-faint truncate align-top",
              wrong ? "text-broke" : "soft",
            ]}>{wrong ?? (e.answer ? "" : "no answer")}</td
          >
          <td
            class="py-1.25 pr-2 pl-0 border-b border-b-faint whitespace-nowrap text-right align-top"
            >{e.s === null ? "" : duration(e.s * 1000)}</td
          >
        </tr>
        {#if open === e.number}
          <tr>
            <td class="py-1.25 pr-2 pl-0 border-b border-b-faint align-top"></td>
            <td colspan="4" class="py-1.25 pr-2 pl-0 border-b border-b-faint align-top">
              <div class="grid gap-3.5 grid-cols-[1fr_2fr]">
                <div>
                  <h4 class="my-0.5">arguments</h4>
                  <Value value={(e.params["arguments"] ?? e.params) as Json} />
                </div>
                <div>
                  <h4 class="my-0.5">answer</h4>
                  {#if typed.fields.number === e.number && typed.fields.answer}
                    <TextArea
                      class="mono"
                      rows={10}
                      bind:value={typed.fields.answer}
                      aria-label="Answer"
                    />
                    <Button kind="go" onclick={() => save(e.number)}>Save this answer</Button>
                    <Button onclick={() => typed.clear()}>Leave it</Button>
                  {:else}
                    {#if e.method === "tools/call" && result(e)}
                      <Answer
                        content={(result(e)?.["content"] ?? []) as Record<string, unknown>[]}
                        structured={result(e)?.["structuredContent"]}
                        error={wrong}
                      />
                    {:else if e.method === "resources/read" && Array.isArray(result(e)?.["contents"])}
                      {#each result(e)?.["contents"] as Record<string, unknown>[] as block, i (i)}
                        <Content {block} />
                      {/each}
                    {:else}
                      <Value value={(e.answer ?? null) as Json} />
                    {/if}
                    {#if e.answer && !captured}
                      <Button
                        onclick={() =>
                          (typed.fields = {
                            number: e.number,
                            answer: JSON.stringify(e.answer, null, 1),
                          })}>Edit the answer</Button
                      >
                    {/if}
                  {/if}
                </div>
              </div>
            </td>
          </tr>
        {/if}
      {:else}
        <tr
          ><td class="soft py-1.25 pr-2 pl-0 border-b border-b-faint align-top"
            >No call on this page.</td
          ></tr
        >
      {/each}
    </tbody>
  </Table>
  <div class="flex flex-wrap items-center gap-2.5 mb-1 text-sm">
    {#if shown.total > 200}
      <Button disabled={shown.start === 0} onclick={() => (start -= 200)}>Earlier</Button>
      <span class="soft">{shown.start + 1}–{Math.min(shown.start + 200, shown.total)}</span>
      <Button disabled={shown.start + 200 >= shown.total} onclick={() => (start += 200)}
        >Later</Button
      >
    {/if}
    {#if chosen.length || other}
      <label>as <Field placeholder="new name" bind:value={name} /></label>
    {/if}
    {#if chosen.length}
      <Button disabled={!name} onclick={cut}>Cut to the {chosen.length} chosen</Button>
    {/if}
    {#if others.length}
      <Choice bind:value={other} aria-label="Merge with">
        <option value="">merge with…</option>
        {#each others as o (o.file)}<option value={o.file}>{o.file}</option>{/each}
      </Choice>
      {#if other}<Button disabled={!name} onclick={merge}>Merge</Button>{/if}
    {/if}
  </div>
{:else if !reading.fault}
  <p class="soft">Reading…</p>
{/if}

<style>
  td:nth-child(1) {
    width: 22px;
  }
  td:nth-child(2) {
    width: 62px;
  }
  td:nth-child(4) {
    width: 28%;
  }
  td:nth-child(5) {
    width: 72px;
  }
</style>
