<script lang="ts">
  /* A file of the workspace in an editor, with completion and errors in place; saved if it
     loads. What stands beside it may put another text into the editor. */
  import { onMount, untrack, type Snippet } from "svelte";
  import { api, ask, type Made } from "../api/client";
  import type { Editor } from "./editor";

  interface Props {
    name: string;
    onsaved: () => void;
    side?: Snippet<[{ saved: number; put: (made: Made) => void; again: () => Promise<void> }]>;
  }
  let { name, onsaved, side }: Props = $props();

  let holder: HTMLDivElement;
  let editor: Editor | null = null;
  let stamp = $state<string | null>(null);
  let fault = $state("");
  let told = $state("");
  let notes = $state<string[]>([]);
  let problems = $state(0);
  let changed = $state(false);
  let busy = $state(false);
  let saved = $state(0);

  onMount(() => {
    const file = untrack(() => name);
    let gone = false;
    void (async () => {
      try {
        const { makeEditor } = await import("./editor");
        const found = await ask(api.GET("/api/file", { params: { query: { name: file } } }));
        if (gone) return;
        stamp = found.stamp;
        const kept = sessionStorage.getItem(`draft ${file}`);
        const draft = kept ? (JSON.parse(kept) as Made) : null;
        if (draft) {
          stamp = draft.stamp ?? found.stamp;
          notes = draft.notes;
          changed = true;
          told = "A mock was made; it is not saved yet.";
          sessionStorage.removeItem(`draft ${file}`);
        }
        editor = await makeEditor(holder, draft?.text ?? found.text, {
          file,
          onchange: () => {
            changed = true;
            told = "";
          },
          onproblems: (count) => (problems = count),
          onsave: () => void save(),
        });
      } catch (error) {
        fault = (error as Error).message;
      }
    })();
    return () => {
      gone = true;
      editor?.close();
    };
  });

  async function save() {
    if (!editor) return;
    busy = true;
    fault = "";
    try {
      const body = { name, text: editor.text(), stamp };
      const kept = await ask(api.PUT("/api/file", { body }));
      stamp = kept.stamp;
      changed = false;
      notes = [];
      told = "Saved.";
      saved += 1;
      onsaved();
    } catch (error) {
      fault = (error as Error).message;
    }
    busy = false;
  }

  function put(made: Made) {
    editor?.put(made.text);
    stamp = made.stamp ?? stamp;
    notes = made.notes;
    told = "A mock was made; it is not saved yet.";
  }

  async function again() {
    const found = await ask(api.GET("/api/file", { params: { query: { name } } }));
    stamp = found.stamp;
    editor?.put(found.text);
    changed = false;
    fault = "";
    saved += 1;
    onsaved();
  }
</script>

<div class="bar">
  <span class="mono">{name}</span>
  <button class="go-button" onclick={save} disabled={busy || !changed}>Save</button>
  <span class={problems ? "broke" : "soft"} data-testid="problems">
    {problems ? `${problems} problem${problems === 1 ? "" : "s"}` : "it loads"}
  </span>
  <span class="soft" aria-live="polite">{told}</span>
  <span class="soft keys">Ctrl-S saves, Ctrl-Space completes</span>
</div>
{#if fault}
  <p class="broke" role="alert">
    {fault}
    {#if fault.includes("changed on disk")}
      <button class="plain-button" onclick={again}>Read it again, without my changes</button>
    {/if}
  </p>
{/if}
{#each notes as note, i (i)}<p class="doubt">{note}</p>{/each}
<div class={{ two: side !== undefined, one: side === undefined }}>
  <div class="holder" bind:this={holder} data-testid="editor"></div>
  {#if side && !problems}
    {@render side({ saved, put, again })}
  {:else if side}
    <p class="soft wait">It can be tried when the file loads.</p>
  {/if}
</div>

<style>
  .bar {
    display: flex;
    align-items: center;
    gap: 12px;
    padding: 6px 0;
    font-size: 13px;
  }
  .keys {
    margin-left: auto;
    font-size: 12px;
  }
  .two {
    display: grid;
    grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
    flex: 1;
    min-height: 0;
  }
  .one {
    display: grid;
    flex: 1;
    min-height: 0;
  }
  .wait {
    padding-left: 16px;
  }
  .holder {
    min-height: 0;
    overflow: hidden;
    border: 1px solid var(--line);
    background: var(--raised);
    margin-bottom: 8px;
  }
  .broke {
    color: var(--broke);
    margin: 0 0 6px;
  }
  .doubt {
    color: var(--doubt);
    margin: 0 0 4px;
    font-size: 12.5px;
  }
</style>
