<script lang="ts">
  /* One value, by its schema: a choice, yes or no, a number, words, a list, fields, or JSON. */
  import type { Json } from "../values/json";
  import ArgumentField from "./ArgumentField.svelte";
  import { blank, hint, kindOf, plain, resolved, titleOf, variants, type Schema } from "./schema";

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
      fault = (error as Error).message;
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
    "field",
    { inner: path !== "", deep: kind === "list" || kind === "fields" || kind === "variants" },
  ]}
>
  <label for={id}>
    <span class={{ required }}>{name}</span>
    <span class="soft">{hint(schema, required)}</span>
  </label>
  {#if kind === "choice"}
    <select
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
    </select>
  {:else if kind === "yesno"}
    <select
      {id}
      onchange={(e) =>
        onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value === "true")}
    >
      <option value="">not given</option>
      <option value="true" selected={value === true}>true</option>
      <option value="false" selected={value === false}>false</option>
    </select>
  {:else if kind === "number"}
    <input
      {id}
      inputmode="decimal"
      value={value ?? ""}
      oninput={(e) => number(e.currentTarget.value)}
    />
  {:else if kind === "words"}
    {#if long}
      <textarea
        {id}
        rows="3"
        value={String(value)}
        oninput={(e) => onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value)}
      ></textarea>
    {:else}
      <input
        {id}
        value={value ?? ""}
        oninput={(e) => onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value)}
      />
    {/if}
  {:else if kind === "list"}
    <div {id} class="inside" role="group" aria-label={name}>
      {#each items as item, i (i)}
        <div class="item">
          <ArgumentField
            name={String(i + 1)}
            definition={schema["items"] ?? {}}
            {root}
            required
            value={item}
            path={`${path}${name}-`}
            onset={(v) => setItem(i, v ?? blank(resolved(schema["items"], root), root))}
          />
          <button type="button" class="slight" onclick={() => setItem(i, undefined)}
            >take out {i + 1}</button
          >
        </div>
      {/each}
      <button
        type="button"
        class="slight"
        onclick={() => onset([...items, blank(resolved(schema["items"], root), root)])}
        >add to {name}</button
      >
      {#if value !== undefined}
        <button type="button" class="slight" onclick={() => onset(undefined)}>do not give</button>
      {/if}
    </div>
  {:else if kind === "fields"}
    <div {id} class="inside" role="group" aria-label={name}>
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
    <div class="inside">
      <select
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
      </select>
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
    <textarea
      {id}
      class="mono"
      rows="2"
      placeholder="JSON"
      value={value === undefined ? "" : JSON.stringify(value)}
      onchange={(e) => json(e.currentTarget.value)}></textarea>
  {/if}
  {#if fault}<span class="fault" role="alert">{fault}</span>{/if}
  {#if schema["description"]}<span class="soft definition">{schema["description"]}</span>{/if}
</div>

<style>
  .field {
    display: grid;
    grid-template-columns: 150px minmax(0, 1fr);
    gap: 1px 10px;
    align-items: center;
    padding: 3px 0;
  }
  .deep {
    align-items: start;
  }
  .inner {
    grid-template-columns: 110px minmax(0, 1fr);
  }
  .inside {
    border-left: 2px solid var(--line);
    padding-left: 8px;
  }
  .item {
    border-bottom: 1px solid var(--faint);
  }
  label {
    overflow-wrap: anywhere;
    font-size: 13px;
    line-height: 1.25;
  }
  label .soft {
    display: block;
    font-size: 11.5px;
  }
  .required {
    font-weight: 600;
  }
  input,
  select,
  textarea {
    border: 1px solid var(--line);
    border-radius: 4px;
    background: var(--raised);
    color: var(--ink);
    padding: 3px 8px;
    font-size: 13px;
    width: 100%;
  }
  .definition,
  .fault {
    grid-column: 2;
    font-size: 12px;
  }
  .fault {
    color: var(--broke);
  }
  .slight {
    background: none;
    border: 0;
    padding: 1px 6px 2px 0;
    font-size: 12px;
    color: var(--soft);
    text-decoration: underline;
    cursor: pointer;
  }
</style>
