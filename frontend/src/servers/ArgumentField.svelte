<script lang="ts">
  /* One argument, by its schema: a list for an enum, yes or no, a number, words, or JSON. */
  import type { Json } from "../api/trace";

  interface Props {
    name: string;
    schema: Record<string, Json>;
    required: boolean;
    value: Json | undefined;
    onset: (value: Json | undefined) => void;
  }
  let { name, schema, required, value, onset }: Props = $props();

  let fault = $state("");
  const kind = $derived(
    Array.isArray(schema["enum"])
      ? "enum"
      : typeof schema["type"] === "string"
        ? schema["type"]
        : "json",
  );
  const id = $derived(`argument-${name}`);
  const hint = $derived(
    [schema["format"] ?? schema["type"], schema["pattern"], required ? "required" : null]
      .filter(Boolean)
      .join(", "),
  );

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
</script>

<div class="field">
  <label for={id}>
    <span class={{ required }}>{name}</span>
    <span class="soft">{hint}</span>
  </label>
  {#if kind === "enum"}
    <select
      {id}
      onchange={(e) =>
        onset(
          e.currentTarget.value === "" ? undefined : (JSON.parse(e.currentTarget.value) as Json),
        )}
    >
      <option value="">not given</option>
      {#each schema["enum"] as Json[] as choice (JSON.stringify(choice))}
        <option value={JSON.stringify(choice)} selected={choice === value}>{String(choice)}</option>
      {/each}
    </select>
  {:else if kind === "boolean"}
    <select
      {id}
      onchange={(e) =>
        onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value === "true")}
    >
      <option value="">not given</option>
      <option value="true" selected={value === true}>true</option>
      <option value="false" selected={value === false}>false</option>
    </select>
  {:else if kind === "number" || kind === "integer"}
    <input
      {id}
      inputmode="decimal"
      value={value ?? ""}
      oninput={(e) => number(e.currentTarget.value)}
    />
  {:else if kind === "string"}
    <input
      {id}
      value={value ?? ""}
      oninput={(e) => onset(e.currentTarget.value === "" ? undefined : e.currentTarget.value)}
    />
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
  {#if schema["description"]}<span class="soft told">{schema["description"]}</span>{/if}
</div>

<style>
  .field {
    display: grid;
    grid-template-columns: 150px minmax(0, 1fr);
    gap: 1px 10px;
    align-items: center;
    padding: 3px 0;
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
  .told,
  .fault {
    grid-column: 2;
    font-size: 12px;
  }
  .fault {
    color: var(--broke);
  }
</style>
