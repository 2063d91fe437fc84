<script lang="ts">
  /* One request to a model as the model got it: messages by role, tools in their places,
     parameters, the answer; beside the request before it. */
  import { address } from "../address.svelte";
  import { api, ask, type ModelRequest, type ShownTool } from "../api/client";
  import { Resource } from "../api/resource.svelte";
  import type { ModelEvent, TrialView } from "../api/trace";
  import type { Json } from "../values/json";
  import { differences } from "../values/differences";
  import Differences from "../values/Differences.svelte";
  import { counted, duration, shortTool } from "../values/text";
  import Value from "../values/Value.svelte";
  import ModelMessage from "./ModelMessage.svelte";
  import Button from "../kit/Button.svelte";

  let { view, event }: { view: TrialView; event: ModelEvent } = $props();
  const MANY_TOOLS = 12;

  let everything = $state(false);
  let allTools = $state(false);
  let opened = $state<string | null>(null);

  const id = $derived(event.id);
  const over = $derived(event.s != null);
  const trial = $derived(view.trial.id);
  const reading = new Resource<ModelRequest>(() => {
    void over; // read again once it has been answered
    const params = { path: { trial, event: id } };
    return ask(api.GET("/api/trials/{trial}/models/{event}", { params }));
  });
  const request = $derived(reading.fault ? null : reading.value);
  $effect(() => {
    void id;
    everything = allTools = false;
    opened = null;
  });

  const shown = $derived(
    (request?.messages ?? [])
      .map((message, place) => ({ message, place }))
      .filter(({ message }) => everything || !request?.before || message.new),
  );
  const earlier = $derived((request?.messages.length ?? 0) - shown.length);
  const wanted = $derived(
    [...new Set(view.expected.map((e) => e.tool))].map((tool) => ({
      tool,
      place: (request?.tools ?? []).findIndex((t) => t.address === tool) + 1,
    })),
  );
  const marked = $derived(new Set(wanted.map((w) => w.tool)));
  const tools = $derived(
    (request?.tools ?? [])
      .map((tool, i) => ({ tool, place: i + 1 }))
      .filter(
        ({ tool, place }) =>
          allTools || place <= MANY_TOOLS || marked.has(tool.address) || tool.differs.length > 0,
      ),
  );

  function served(tool: ShownTool) {
    const there = tool.served as { input?: Json; description?: Json; name?: string };
    return differences(
      {
        name: there.name ?? shortTool(tool.address),
        description: there.description ?? "",
        input: there.input ?? {},
      },
      { name: tool.name, description: tool.description ?? "", input: (tool.input ?? {}) as Json },
    );
  }
</script>

<h3 class="my-0 text-base">
  Request {id} to the model
  {#if event.voice}<span class="soft font-normal">as {event.voice}</span>{/if}
</h3>
<p class="soft my-0.5 text-sm">
  {event.s == null ? "not answered" : duration(event.s * 1000)}
  {#if request?.usage}· {counted(request.usage["input"] ?? 0, "token")} in, {request.usage[
      "output"
    ]} out{view.agent.simulated ? " (estimated)" : ""}{/if}
  {#if request}· {request.interface}{/if}
</p>
{#if request?.injected}<p class="text-doubt mt-0.5 mb-1.5">{request.injected}</p>{/if}
{#if event.error}<p class="text-broke mt-0.5 mb-1.5">{event.error.message}</p>{/if}
{#if reading.fault}
  <p class="soft mt-0.5 mb-1.5">{reading.fault}</p>
{:else if !request}
  <p class="soft mt-0.5 mb-1.5">Reading what it was shown…</p>
{:else}
  {#if request.not_kept}
    <p class="text-doubt mt-0.5 mb-1.5">
      {counted(request.not_kept, "character")} of it were not kept: what is longer than 256 KB, or past
      8 MB in a trial, is left out.
    </p>
  {/if}
  {#if request.before}
    {@const before = request.before}
    <p class="soft mt-0.5 mb-1.5">
      Since <Button kind="link" onclick={() => address.mark("call", before)}
        >request {before}</Button
      >:
      {counted(request.messages.filter((m) => m.new).length, "new message")}{request.dropped
        ? `, ${counted(request.dropped, "message")} of it gone`
        : ""}{request.tools_added.length
        ? `, tools added: ${request.tools_added.join(", ")}`
        : ""}{request.tools_removed.length
        ? `, tools gone: ${request.tools_removed.join(", ")}`
        : ""}{request.tools.length && !request.tools_added.length && !request.tools_removed.length
        ? ", the same tools"
        : ""}.
    </p>
  {/if}
  {#if earlier}
    <Button kind="link" onclick={() => (everything = true)} data-testid="earlier-messages"
      >{counted(earlier, "message")} of the request before</Button
    >
  {/if}
  <ol data-testid="messages-shown">
    {#each shown as { message, place } (place)}
      <li class="mb-1.5">
        {#if message.not_kept}
          <p class="text-doubt mt-0.5 mb-1.5">
            A message of {counted(message.not_kept, "character")}, not kept.
          </p>
        {:else}
          <ModelMessage body={message.body as Json} />
        {/if}
      </li>
    {/each}
  </ol>

  <h4>It answered</h4>
  <div data-testid="model-answer">
    {#if request.answer}
      <ModelMessage body={request.answer as Json} />
    {:else}
      <p class="soft mt-0.5 mb-1.5">{over ? "nothing that Ferox saw" : "not yet"}</p>
    {/if}
  </div>

  <h4>
    {request.tools.length ? `${counted(request.tools.length, "tool")}, in their places` : "Tools"}
  </h4>
  {#if !request.tools.length}
    <p class="soft mt-0.5 mb-1.5">The request defines none.</p>
  {:else}
    {#each wanted as { tool, place } (tool)}
      <p class={["my-0.5 text-sm", { "text-doubt": !place, soft: place }]}>
        {shortTool(tool)}, which the script expects, {place
          ? `stands at place ${place}`
          : "is not among them"}.
      </p>
    {/each}
    <ol data-testid="tools-shown">
      {#each tools as { tool, place } (place)}
        <li>
          <Button
            kind="text"
            class="flex w-full flex-wrap gap-x-2 text-sm"
            onclick={() => (opened = opened === tool.address ? null : tool.address)}
            aria-expanded={opened === tool.address}
          >
            <span class="soft w-6.5 text-right">{place}</span>
            <span class={{ wanted: marked.has(tool.address) }}>{tool.name}</span>
            <span class="soft">{tool.address}</span>
            {#if tool.differs.length}
              <span class="text-doubt">other {tool.differs.join(", ")} than the server’s</span>
            {/if}
          </Button>
          {#if opened === tool.address}
            <div class="pt-0.5 pb-2 pl-8.5 text-sm">
              {#if tool.not_kept}
                <p class="text-doubt mt-0.5 mb-1.5">
                  {counted(tool.not_kept, "character")}, not kept.
                </p>
              {:else}
                <p class="soft mt-0.5 mb-1.5">{tool.description || "(no description)"}</p>
                <Value value={(tool.input ?? {}) as Json} />
                {#if tool.served}
                  <Differences what={served(tool)} old="the server offers" now="the model saw" />
                {/if}
              {/if}
            </div>
          {/if}
        </li>
      {/each}
    </ol>
    {#if tools.length < request.tools.length}
      <Button kind="link" onclick={() => (allTools = true)}
        >all {counted(request.tools.length, "tool")}</Button
      >
    {/if}
  {/if}

  {#if request.parameters && Object.keys(request.parameters).length}
    <h4>Parameters</h4>
    <Value value={request.parameters as Json} />
  {/if}
{/if}

<style>
  .wanted {
    font-weight: 600;
  }
</style>
