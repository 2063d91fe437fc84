<script lang="ts">
  /* Arguments by a schema, as a form or as JSON, kept in step. */
  import { messageOf } from "../api/resource.svelte";
  import type { Json } from "../values/json";
  import ArgumentField from "./ArgumentField.svelte";
  import type { Schema } from "./schema";
  import Fault from "../kit/Fault.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    schema: Schema;
    args: Record<string, Json>;
    raw: boolean;
    onset: (args: Record<string, Json>, fault: string) => void;
  }
  let { schema, args, raw, onset }: Props = $props();

  let fault = $state("");
  const names = $derived(Object.keys((schema["properties"] ?? {}) as object));
  const needed = $derived((schema["required"] ?? []) as string[]);
  const text = $derived(JSON.stringify(args, null, 1));

  function set(name: string, value: Json | undefined) {
    const left = Object.entries(args).filter(([n]) => n !== name);
    const next = value === undefined ? left : [...left, [name, value] as [string, Json]];
    onset(Object.fromEntries(next), "");
  }

  function typed(words: string) {
    try {
      const value = JSON.parse(words) as Json;
      if (typeof value !== "object" || value === null || Array.isArray(value))
        throw new Error("the arguments are an object");
      fault = "";
      onset(value, "");
    } catch (error) {
      fault = messageOf(error);
      onset(args, fault);
    }
  }
</script>

{#if raw}
  <TextArea
    class="mono"
    rows={9}
    aria-label="Arguments as JSON"
    value={text}
    oninput={(e) => typed(e.currentTarget.value)}
    spellcheck="false"
  />
  <Fault message={fault} class="mt-0.5 mb-2" />
{:else}
  {#each names as name (name)}
    <ArgumentField
      {name}
      definition={(schema["properties"] as Record<string, Json>)[name] ?? {}}
      root={schema}
      required={needed.includes(name)}
      value={args[name]}
      onset={(value) => set(name, value)}
    />
  {:else}
    <p class="soft mt-0.5 mb-2">It takes no arguments.</p>
  {/each}
{/if}
