<script lang="ts">
  /* What a model is, to be written into ferox.yaml; a key that is typed goes into .env. */
  import { untrack } from "svelte";
  import { api, ask, type ModelList } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { Typed } from "../editor/typed.svelte";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Tick from "../kit/Tick.svelte";
  import { secretFor, sourceOf, type ModelForm } from "./modelForm";

  interface Props {
    form: ModelForm;
    known: ModelList;
    isNew: boolean;
    keySet: boolean | null;
    onwritten: (now: ModelList, name: string) => void;
  }
  let { form, known, isNew, keySet, onwritten }: Props = $props();

  // What is typed may hold a key.
  const typed = untrack(() => new Typed(`model ${form.name}`, form, { secret: true }));
  const fields = $derived(typed.fields);
  const act = new Action();
  const naming = new Action();
  let names = $state.raw<string[] | null>(null);
  let said = $state("");
  const manners = $derived(
    known.stand_ins.find((s) => s.file === fields.standIn)?.manners ?? ["steady"],
  );
  const asksEndpoint = $derived(
    fields.kind === "endpoint" || (fields.kind === "recording" && fields.goesOn),
  );
  const PRICES = [
    ["sent", "sent"],
    ["kept from before", "kept"],
    ["answered", "answered"],
  ] as const;
  const ROW = "grid items-center gap-2.5 grid-cols-[120px_minmax(0,1fr)] py-0.75";

  /** What is typed, with a name for the key's secret if none was given. */
  function filled(): ModelForm {
    const made = $state.snapshot(fields);
    return { ...made, secret: made.key && !made.secret ? secretFor(made.name) : made.secret };
  }

  const bodyOf = (made: ModelForm) => ({ source: sourceOf(made), key: made.key || null });

  function write(event: SubmitEvent) {
    event.preventDefault();
    return act.run(async () => {
      const made = filled();
      const params = { path: { model: made.name.trim() } };
      const now = await ask(api.PUT("/api/models/{model}", { params, body: bodyOf(made) }));
      typed.clear({ ...made, key: "" });
      said = "Written.";
      onwritten(now, params.path.model);
    });
  }

  function askNames() {
    return naming.run(async () => {
      names = (await ask(api.POST("/api/models/names", { body: bodyOf(filled()) }))).names;
    });
  }
</script>

<form class="max-w-150 text-sm" onsubmit={write} data-testid="model-form">
  {#if isNew}
    <label class={ROW}
      >Name <Field
        class="mono"
        bind:value={typed.fields.name}
        required
        pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
        title="Letters, digits, dots, hyphens and underscores"
        placeholder="tern"
      /></label
    >
  {/if}
  <label class={ROW}
    >It is
    <span
      ><Choice bind:value={typed.fields.kind}>
        <option value="endpoint">an endpoint that takes chat completions</option>
        <option value="stand-in">a stand-in: simulated</option>
        <option value="recording">a recording of an endpoint</option>
      </Choice></span
    ></label
  >
  {#if fields.kind === "stand-in"}
    <label class={ROW}
      >Its file
      <span
        ><Choice bind:value={typed.fields.standIn} required>
          {#each known.stand_ins as one (one.file)}<option value={one.file}>{one.file}</option
            >{/each}
        </Choice>
        {#if fields.standIn}
          <a href={`/agents?view=models&file=${encodeURIComponent(fields.standIn)}`}>Edit it</a>
        {/if}</span
      ></label
    >
    <label class={ROW}
      >Manner
      <span
        ><Choice bind:value={typed.fields.manner}>
          {#each manners as one (one)}<option value={one}>{one}</option>{/each}
        </Choice></span
      ></label
    >
    <p class="soft my-1">
      A stand-in says what its file means to do; its manner says how often it slips. A suite can
      have one made: <i>Tasks → Make a stand-in</i>.
    </p>
  {:else if fields.kind === "recording"}
    <label class={ROW}
      >Recording
      <span
        ><Choice bind:value={typed.fields.recording} required>
          {#each known.recordings as one (one)}<option value={one}>{one}</option>{/each}
        </Choice></span
      ></label
    >
    <Tick bind:checked={typed.fields.goesOn} class="my-1"
      >Ask an endpoint for what was not recorded</Tick
    >
  {/if}
  {#if asksEndpoint}
    <label class={ROW}
      >Address <Field
        wide
        class="mono"
        type="url"
        bind:value={typed.fields.url}
        required
        placeholder="https://models.example/v1"
      /></label
    >
    <label class={ROW}
      >Key <Field
        wide
        class="mono"
        type="password"
        autocomplete="off"
        bind:value={typed.fields.key}
        placeholder={keySet
          ? "set; type another to replace it"
          : keySet === false
            ? "not set"
            : "none, if it needs none"}
      /></label
    >
    <label class={ROW}
      >kept in .env as <Field
        class="mono"
        bind:value={typed.fields.secret}
        pattern="[A-Za-z_][A-Za-z0-9_]*"
        title="Letters, digits and underscores"
        placeholder={fields.key ? secretFor(fields.name) : ""}
      /></label
    >
    <div class={ROW}>
      <label for="model-name">Its own name</label>
      <span class="flex items-center gap-2">
        <Field
          id="model-name"
          class="mono"
          bind:value={typed.fields.model}
          placeholder="tern-small"
        />
        <Button onclick={askNames} disabled={naming.busy || !fields.url}
          >{naming.busy ? "Asking…" : "Ask which it has"}</Button
        >
      </span>
    </div>
    <Fault message={naming.fault} />
    {#if names}
      <p class="flex flex-wrap gap-1.5 max-h-30 my-1 pl-32.5 overflow-auto">
        {#each names as one (one)}
          <Button aria-pressed={one === fields.model} onclick={() => (typed.fields.model = one)}
            >{one}</Button
          >
        {:else}<span class="soft">It lists none.</span>{/each}
      </p>
    {/if}
    <label class={ROW}
      >At most <span
        ><Field class="w-20!" type="number" min="1" bind:value={typed.fields.perMinute} /> requests a
        minute</span
      ></label
    >
    <div class={ROW}>
      <span>Price</span>
      <span class="flex items-center gap-3 whitespace-nowrap">
        {#each PRICES as [words, price] (price)}
          <label
            >{words}
            <Field
              class="w-18!"
              type="number"
              min="0"
              step="any"
              bind:value={typed.fields[price]}
            /></label
          >
        {/each}
      </span>
    </div>
    <div class={ROW}>
      <span></span>
      <label class="soft"
        >for a million tokens, in <Field
          class="mono w-16!"
          bind:value={typed.fields.currency}
          pattern="[A-Z][A-Z][A-Z]"
          title="A currency by its code, such as USD"
        /></label
      >
    </div>
  {/if}
  <Fault message={act.fault} class="my-2" />
  <p class="mt-2.5">
    <Button type="submit" kind="go" disabled={act.busy}
      >{isNew ? "Write it into ferox.yaml" : "Write the change"}</Button
    >
    <span class="soft ml-2" aria-live="polite">{said}</span>
  </p>
</form>
