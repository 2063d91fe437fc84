<script lang="ts">
  /* Goes on from a place in a trial, with one thing changed or none, some times over. */
  import { untrack } from "svelte";
  import { api, ask, type Run } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import type { CallEvent, ModelEvent, TrialView, TurnEvent } from "../api/trace";
  import type { Json } from "../values/json";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import FaultWords from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import { counted } from "../values/text";
  import {
    type AnyChange,
    type Change,
    type Fault,
    FAULTS,
    type Point,
    serversFrom,
    type Way,
    WAYS,
  } from "./point";

  interface Props {
    view: TrialView;
    point: Point;
    onstart: (run: Run) => void;
    onclose: () => void;
  }
  let { view, point, onstart, onclose }: Props = $props();

  const here = untrack(() => point);
  const whole = untrack(() => view);
  let way = $state<Way>("nothing");
  // What was cut to fit the screen cannot be edited: it would go out cut.
  const cut = untrack(() => view.long.includes(view.trace.events.indexOf(point.event)));
  let answer = $state(
    here.kind === "call" && !cut ? asText((here.event as CallEvent).result ?? "") : "",
  );
  let words = $state(wordsThen());
  let tool = $state(toolThen()?.tool ?? Object.keys(whole.trace.tools ?? {})[0] ?? "");
  let description = $derived(view.trace.tools?.[tool]?.description ?? "");
  let args = $state(asText(toolThen()?.args ?? {}));
  let fault = $state<Fault>(here.kind === "model" ? "model_status" : "timeout");
  let planted = $state("");
  let model = $state("");
  let repeats = $state<number | string>(5);
  const act = new Action();
  const workspace = new Resource(() => (way === "model" ? ask(api.GET("/api/workspace")) : null));
  const models = $derived(workspace.value?.models ?? []);

  const change = $derived.by((): Change | null => {
    switch (way) {
      case "answer":
        return { answer: asValue(answer) };
      case "error":
        return words.trim() ? { error: words } : null;
      case "say":
        return { say: words };
      case "call": {
        const given = asValue(args);
        const isObject = typeof given === "object" && given !== null && !Array.isArray(given);
        return isObject ? { call: { tool, args: given as Record<string, unknown> } } : null;
      }
      case "fault":
        if (fault !== "planted_text") return { fault: { do: fault } };
        return planted.trim() ? { fault: { do: fault, text: planted } } : null;
      case "without":
        return { without: [tool] };
      case "wording":
        return { wording: { tool, description } };
      case "model":
        return model ? { model } : null;
      default:
        return {};
    }
  });
  const count = $derived(Math.min(50, Math.max(1, Math.round(Number(repeats)) || 1)));
  const later = $derived(
    view.trace.events
      .slice(view.trace.events.indexOf(point.event))
      .filter((e) => e.kind === "model").length,
  );

  function asText(value: unknown): string {
    return typeof value === "string" ? value : JSON.stringify(value, null, 1);
  }

  /** JSON as its value, other words as they are. */
  function asValue(text: string): Json {
    try {
      return JSON.parse(text) as Json;
    } catch {
      return text;
    }
  }

  function wordsThen(): string {
    if (here.kind === "call") return "";
    return (here.event as ModelEvent | TurnEvent).text ?? "";
  }

  function toolThen() {
    return here.kind === "model" ? (here.event as ModelEvent).proposed?.[0] : undefined;
  }

  function start(event: SubmitEvent) {
    event.preventDefault();
    if (!change) return;
    const body = { at: point.at, change: change as AnyChange, repeats: count };
    return act.run(async () => {
      const params = { path: { trial: view.trial.id } };
      onstart(await ask(api.POST("/api/trials/{trial}/forks", { params, body })));
    });
  }
</script>

<Dialog title={`From here: ${point.words}`} {onclose}>
  <form class="grid gap-3 text-sm" onsubmit={start} data-testid="from-here">
    <p class="text-soft">
      What came before is played back, and the agent has to do the same as it did. From here on its
      model{view.agent.simulated ? " (simulated)" : ""} is asked: this trial asked it {later === 1
        ? "once"
        : `${later} times`} from here.
    </p>
    {#if view.trace.modes && Object.keys(view.trace.modes).length}
      <ul class="list-disc pl-5 text-soft">
        {#each serversFrom(view, point) as line (line)}<li>{line}</li>{/each}
      </ul>
    {/if}
    <label class="flex items-center gap-2"
      >What is otherwise
      <Choice bind:value={way} data-testid="way">
        {#each WAYS[point.kind] as [value, name] (value)}<option {value}>{name}</option>{/each}
      </Choice>
    </label>
    {#if way === "answer"}
      <label class="grid gap-1"
        >The answer, as JSON or as words
        <TextArea class="mono" rows={8} bind:value={answer} data-testid="answer" />
      </label>
      {#if cut}
        <p class="soft">What it was is too long to be edited here; `ferox fork` takes a file.</p>
      {/if}
    {:else if way === "error"}
      <label class="grid gap-1"
        >The error’s words <Field wide bind:value={words} data-testid="error" />
      </label>
    {:else if way === "say"}
      <label class="grid gap-1"
        >The words <TextArea rows={3} bind:value={words} data-testid="say" />
      </label>
    {:else if way === "call"}
      <label class="flex items-center gap-2"
        >Tool
        <Choice bind:value={tool}>
          {#each Object.keys(view.trace.tools ?? {}) as name (name)}<option>{name}</option>{/each}
        </Choice>
      </label>
      <label class="grid gap-1"
        >Arguments, as JSON <TextArea class="mono" rows={4} bind:value={args} data-testid="args" />
      </label>
      {#if !change}<FaultWords message="Arguments are a JSON object." />{/if}
    {:else if way === "without" || way === "wording"}
      <label class="flex items-center gap-2"
        >Tool
        <Choice bind:value={tool} data-testid="tool">
          {#each Object.keys(view.trace.tools ?? {}) as name (name)}<option>{name}</option>{/each}
        </Choice>
      </label>
      {#if way === "wording"}
        <label class="grid gap-1"
          >Its description, from here on
          <TextArea rows={3} bind:value={description} data-testid="description" />
        </label>
      {/if}
    {:else if way === "fault" && point.kind !== "turn"}
      <label class="flex items-center gap-2"
        >Fault
        <Choice bind:value={fault} data-testid="fault">
          {#each FAULTS[point.kind] as kind (kind)}<option value={kind}
              >{kind.replaceAll("_", " ")}</option
            >{/each}
        </Choice>
      </label>
      {#if fault === "planted_text"}
        <label class="grid gap-1"
          >The text that stands in the answer <TextArea rows={2} bind:value={planted} />
        </label>
      {/if}
    {:else if way === "model"}
      <label class="flex items-center gap-2"
        >Model
        <Choice bind:value={model} data-testid="model">
          <option value=""></option>
          {#each models as name (name)}<option>{name}</option>{/each}
        </Choice>
      </label>
      <FaultWords message={workspace.fault} />
    {/if}
    <label class="flex items-center gap-2"
      >How often <Field class="w-16" type="number" min="1" max="50" bind:value={repeats} />
    </label>
    <FaultWords message={act.fault} />
    <div class="flex items-center gap-3">
      <Button type="submit" kind="go" disabled={!change || act.busy} data-testid="start-forks"
        >{act.busy ? "Starting…" : `Start ${counted(count, "fork")}`}</Button
      >
      <Button onclick={onclose}>Cancel</Button>
    </div>
  </form>
</Dialog>
