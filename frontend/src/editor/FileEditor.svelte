<script lang="ts">
  /* A file of the workspace in an editor, with completion and errors in place; saved if it
     loads. What stands beside it may put another text into the editor. A change on disk
     meanwhile is noticed, and never overwritten unasked. */
  import { onMount, untrack, type Snippet } from "svelte";
  import { api, ask, type Made } from "../api/client";
  import { messageOf } from "../api/resource.svelte";
  import { connection } from "../frame/connection.svelte";
  import { draftOf, dropDraft, putDraft, type Draft } from "./drafts";
  import type { Editor } from "./editor";
  import FileActs from "./FileActs.svelte";
  import Button from "../kit/Button.svelte";

  interface Props {
    name: string;
    onsaved: () => void;
    /** Told of the text and the cursor's line, a little after they change. */
    onread?: (text: string, line: number) => void;
    /** Whether what stands beside it is shown even while the text does not load. */
    always?: boolean;
    side?: Snippet<[{ saved: number; put: (made: Made) => void; again: () => Promise<void> }]>;
  }
  let { name, onsaved, onread, always = false, side }: Props = $props();
  const LOOK_MS = 4000;
  const REST_MS = 100;
  const NEW: { text: string; stamp: string | null } = { text: "", stamp: null };
  const TYPED = "What you typed before; it is not saved yet.";

  // The editor is made anew for another file; while it goes, `name` may be that already.
  const file = untrack(() => name);
  let holder: HTMLDivElement;
  let editor: Editor | null = null;
  let stamp = $state<string | null>(null);
  let onDisk = $state<string | null>(null);
  let fault = $state("");
  let note = $state("");
  let notes = $state<string[]>([]);
  let problems = $state(0);
  let remarks = $state(0);
  let changed = $state(false);
  let busy = $state(false);
  let saved = $state(0);
  let resting: ReturnType<typeof setTimeout>;
  /** The text that is saved, and what else is known of the one that is not. */
  let original = "";
  let draft: Draft | null = null;
  let gone = false;

  /** Puts the cursor on a line, and shows it. */
  export function goto(line: number) {
    editor?.goto(line);
  }

  function read() {
    clearTimeout(resting);
    resting = setTimeout(() => {
      // What stands beside it is of another file by then.
      if (!editor || gone) return;
      keepDraft();
      onread?.(editor.text(), editor.line());
    }, REST_MS);
  }

  /** What is not saved outlives this page; what is as it was saved needs no draft. */
  function keepDraft() {
    if (!editor) return;
    const text = editor.text();
    if (!changed) dropDraft(file);
    else putDraft(file, { note: TYPED, reasons: [], ...draft, text, stamp, notes: [...notes] });
  }

  onMount(() => {
    void (async () => {
      try {
        const { makeEditor } = await import("./editor");
        draft = draftOf(file);
        const isNew = draft !== null && draft.stamp === null;
        const found = isNew ? NEW : await readFile().catch(lost);
        if (gone) return;
        original = found.text;
        stamp = draft?.stamp ?? found.stamp;
        if (draft) {
          notes = draft.notes;
          changed = true;
          note = draft.note;
          if (found.stamp !== stamp) onDisk = found.stamp;
        }
        editor = await makeEditor(holder, draft?.text ?? found.text, {
          file,
          onchange: (text) => {
            changed = stamp === null || text !== original;
            note = fault = "";
            read();
          },
          onmove: read,
          onproblems: (errors, more) => {
            problems = errors;
            remarks = more;
          },
          onsave: () => void save(),
        });
        if (draft?.line) editor.goto(draft.line);
        read();
      } catch (error) {
        fault = messageOf(error);
      }
    })();
    const looking = setInterval(() => void look(), LOOK_MS);
    return () => {
      gone = true;
      clearInterval(looking);
      clearTimeout(resting);
      keepDraft();
      editor?.close();
    };
  });

  /** Whether the file on disk is still the one that was read. */
  async function look() {
    if (document.hidden || busy || stamp === null) return;
    try {
      const there = await ask(api.GET("/api/file/stamp", { params: { query: { name } } }));
      onDisk = there.stamp === stamp ? null : there.stamp;
      if (onDisk && !changed) {
        const found = await readFile();
        // What was typed while it was read is not written over: its writer is asked.
        if (changed) return;
        replace(found);
        note = "It changed on disk, and was read again.";
      }
    } catch {
      /* Whatever is wrong is said when it is saved. */
    }
  }

  async function save() {
    if (!editor) return;
    busy = true;
    fault = "";
    try {
      const body = { name, text: editor.text(), stamp };
      const kept = await ask(api.PUT("/api/file", { body }));
      stamp = kept.stamp;
      original = body.text;
      draft = null;
      changed = editor.text() !== original; // one may type on while it is saved
      keepDraft();
      notes = [];
      note = "Saved.";
      saved += 1;
      onsaved();
    } catch (error) {
      fault = messageOf(error);
      if (fault.includes("changed on disk")) void look();
    }
    busy = false;
  }

  async function tidy() {
    if (!editor) return;
    fault = "";
    try {
      const body = { name, text: editor.text() };
      const { text } = await ask(api.POST("/api/file/format", { body }));
      if (text === editor.text()) note = "Nothing to set right.";
      else editor.put(text);
    } catch (error) {
      fault = messageOf(error);
    }
  }

  function put(made: Made) {
    editor?.put(made.text);
    stamp = made.stamp ?? stamp;
    notes = made.notes;
    note = "A mock was made; it is not saved yet.";
  }

  /** A draft whose file has been removed is a new file; any other fault is told. */
  function lost(error: unknown): typeof NEW {
    if (!draft || connection.gone) throw error;
    draft = { ...draft, stamp: null, note: "The file is gone; this is what you typed in it." };
    return NEW;
  }

  function readFile() {
    return ask(api.GET("/api/file", { params: { query: { name } } }));
  }

  async function again() {
    replace(await readFile());
  }

  function replace(found: { text: string; stamp: string }) {
    stamp = found.stamp;
    onDisk = null;
    draft = null;
    original = found.text;
    editor?.put(found.text);
    changed = false;
    dropDraft(file);
    fault = "";
    saved += 1;
    onsaved();
  }

  function keepMine() {
    stamp = onDisk;
    onDisk = null;
    fault = "";
    note = "Save to put yours in place of it.";
  }
</script>

<div
  data-testid="file-bar"
  class="flex flex-wrap items-center gap-3 py-1.5 whitespace-nowrap text-sm"
>
  <span class="mono min-w-10 overflow-hidden text-ellipsis" title={name}
    >{name}{changed ? " •" : ""}</span
  >
  <Button kind="go" onclick={save} disabled={busy || !changed}>Save</Button>
  {#if changed && stamp !== null}
    <Button onclick={again}>Discard my changes</Button>
  {/if}
  {#if stamp !== null && name.includes("/")}
    <FileActs {name} {stamp} {changed} />
  {/if}
  {#if name.endsWith(".yaml")}
    <Button onclick={tidy} title="Set the indentation right; comments stay">Format</Button>
  {/if}
  <Button
    kind="text"
    class={problems ? "text-broke" : "text-soft"}
    data-testid="problems"
    disabled={!problems && !remarks}
    onclick={() => editor?.next()}
    title="To the next one"
  >
    {problems ? `${problems} problem${problems === 1 ? "" : "s"}` : "it loads"}{remarks
      ? `, ${remarks} note${remarks === 1 ? "" : "s"}`
      : ""}
  </Button>
  <span class="soft min-w-10 overflow-hidden text-ellipsis" aria-live="polite" title={note}
    >{note}</span
  >
  {#if !side}<span class="soft ml-auto text-sm">Ctrl-S saves, Ctrl-Space completes</span>{/if}
</div>
{#if onDisk && changed}
  <p class="mb-1 text-sm text-doubt" role="alert">
    {name} changed on disk since it was read, and you changed it here.
    <Button onclick={again}>Read it again, without my changes</Button>
    <Button onclick={keepMine}>Keep mine</Button>
  </p>
{/if}
{#if fault}<p class="mb-1.5 text-broke" role="alert">{fault}</p>{/if}
{#each notes as note, i (i)}<p class="mb-1 text-sm text-doubt">{note}</p>{/each}
<div
  class={["grid min-h-0 flex-1 max-md:block", side && "grid-cols-[minmax(0,3fr)_minmax(0,2fr)]"]}
>
  <div
    class="min-h-0 mb-2 border border-line bg-raised overflow-hidden max-md:h-80"
    bind:this={holder}
    data-testid="editor"
  ></div>
  {#if side && (always || !problems)}
    {@render side({ saved, put, again })}
  {:else if side}
    <p class="soft pl-4">It can be tried when the file loads.</p>
  {/if}
</div>
