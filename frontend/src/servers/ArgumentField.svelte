<script lang="ts">
  /* One value, by its schema: a choice, yes or no, a number, words, a list, fields, or JSON. */
  import { messageOf } from "../api/resource.svelte";
  import type { Json } from "../values/json";
  import ArgumentField from "./ArgumentField.svelte";
  import { blank, hint, kindOf, plain, resolved, titleOf, variants, type Schema } from "./schema";
  import Button from "../kit/Button.svelte";
  import Choice from "../kit/Choice.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    name: string;
    definition: Json;
    root: Schema;
    required?: boolean;
    value: Json | undefined;
    path?: string;
    onset: (value: Json | undefined) => void;
  }
  let { name, definition, root, required = false, value, path = "", onset }: Props = $props();

  let fault = $state("");
  let picked = $state(0);
  const whole = $derived(resolved(definition, root));
  const kind = $derived(kindOf(whole, root));
  const schema = $derived(plain(whole, root));
  const others = $derived(variants(whole, root));
  const id = $derived(`argument-${path}${name}`);
  const choices = $derived(
    (schema["enum"] as Json[] | undefined) ??
      (schema["const"] === undefined ? [] : [schema["const"]]),
  );
  const items = $derived(Array.isArray(value) ? value : []);
  const fields = $derived(
    typeof value === "object" && value !== null && !Array.isArray(value) ? value : {},
  );
  const properties = $derived((schema["properties"] ?? {}) as Record<string, Json>);
  const needed = $derived((schema["required"] ?? []) as string[]);
  const given = $derived(typeof value === "number" ? value : value ? String(value) : "");
  const long = $derived(typeof value === "string" && (value.length > 60 || value.includes("\n")));

  function number(text: string) {
    const parsed = Number(text);
    onset(text === "" ? undefined : Number.isFinite(parsed) ? parsed : text);
  }

  function json(text: string) {
    fault = "";
    if (text.trim() === "") return onset(undefined);
    try {
      onset(JSON.parse(text) as Json);
    } catch (error) {
      fault = messageOf(error);
    }
  }

  function setItem(place: number, item: Json | undefined) {
    onset(items.flatMap((old, i) => (i !== place ? [old] : item === undefined ? [] : [item])));
  }

  function setField(field: string, item: Json | undefined) {
    const left = Object.entries(fields).filter(([n]) => n !== field);
    const next = Object.fromEntries(item === undefined ? left : [...left, [field, item]]);
    onset(Object.keys(next).length || required ? next : undefined);
  }
</script>

<div
  class={[
    "grid items-center gap-x-2.5 gap-y-px grid-cols-[150px_minmax(0,1fr)] py-0.75",
    { inner: path !== "", deep: kind === "list" || kind === "fields" || kind === "variants" },
  ]}
>
  <label class="wrap-anywhere text-sm leading-[1.25]" for={id}>
    <span class={{ required }}>{name}</span>
    <span class="soft block text-xs">{hint(schema, required)}</span>
  </label>
  {#if kind === "choice"}
    <Choice
      wide
      {id}
      onchange={(e) =>
        onset(
          e.currentTarget.value === "" ? undefined : (JSON.parse(e.currentTarget.value) as Json),
        )}
    >
      <option value="">not given</option>
      {#each choices as choice (JSON.stringify(choice))}
        <option value={JSON.stringify(choice)} selected={choice === value}>{String(choice)}</option>
      {/each}
    </Choice>
  {:else if kind === "yesno"}
    <Choice
      wide
      {id}
      onchange={(e) =>
        onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value === "true")}
    >
      <option value="">not given</option>
      <option value="true" selected={value === true}>true</option>
      <option value="false" selected={value === false}>false</option>
    </Choice>
  {:else if kind === "number"}
    <Field
      {id}
      wide
      inputmode="decimal"
      value={given}
      oninput={(e) => number(e.currentTarget.value)}
    />
  {:else if kind === "words"}
    {#if long}
      <TextArea
        {id}
        rows={3}
        value={String(given)}
        oninput={(e) => onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value)}
      />
    {:else}
      <Field
        wide
        {id}
        value={given}
        oninput={(e) => onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value)}
      />
    {/if}
  {:else if kind === "list"}
    <div {id} class="pl-2 border-l-2 border-l-line" role="group" aria-label={name}>
      {#each items as item, i (i)}
        <div class="border-b border-b-faint">
          <ArgumentField
            name={String(i + 1)}
            definition={schema["items"] ?? {}}
            {root}
            required
            value={item}
            path={`${path}${name}-`}
            onset={(v) => setItem(i, v ?? blank(resolved(schema["items"], root), root))}
          />
          <Button kind="link" onclick={() => setItem(i, undefined)}>take out {i + 1}</Button>
        </div>
      {/each}
      <Button
        kind="link"
        onclick={() => onset([...items, blank(resolved(schema["items"], root), root)])}
        >add to {name}</Button
      >
      {#if value !== undefined}
        <Button kind="link" onclick={() => onset(undefined)}>do not give</Button>
      {/if}
    </div>
  {:else if kind === "fields"}
    <div {id} class="pl-2 border-l-2 border-l-line" role="group" aria-label={name}>
      {#each Object.entries(properties) as [field, spec] (field)}
        <ArgumentField
          name={field}
          definition={spec}
          {root}
          required={needed.includes(field)}
          value={fields[field]}
          path={`${path}${name}-`}
          onset={(v) => setField(field, v)}
        />
      {/each}
    </div>
  {:else if kind === "variants"}
    <div class="pl-2 border-l-2 border-l-line">
      <Choice
        wide
        {id}
        aria-label={`Form of ${name}`}
        onchange={(e) => {
          picked = Number(e.currentTarget.value);
          onset(undefined);
        }}
      >
        {#each others as other, i (i)}
          <option value={i} selected={i === picked}>{titleOf(other, i)}</option>
        {/each}
      </Choice>
      {#key picked}
        <ArgumentField
          {name}
          definition={others[picked] ?? {}}
          {root}
          {required}
          {value}
          path={`${path}form-`}
          {onset}
        />
      {/key}
    </div>
  {:else}
    <TextArea
      {id}
      class="mono"
      rows={2}
      placeholder="JSON"
      value={value === undefined ? "" : JSON.stringify(value)}
      onchange={(e) => json(e.currentTarget.value)}
    />
  {/if}
  {#if fault}<span class="col-start-2 text-sm text-broke" role="alert">{fault}</span>{/if}
  {#if schema["description"]}<span class="soft col-start-2 text-sm">{schema["description"]}</span
    >{/if}
</div>

<style>
  .deep {
    align-items: start;
  }
  .inner {
    grid-template-columns: 110px minmax(0, 1fr);
  }

  .required {
    font-weight: 600;
  }
</style>
