<script lang="ts">
  /* A file renamed or removed; both can be undone, and what they break is said. */
  import { address } from "../address.svelte";
  import { api, ask, type MovedFile } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import { connection } from "../frame/connection.svelte";
  import { undo } from "../frame/undo.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import { counted } from "../values/text";
  import { dropDraft, placeOf } from "./drafts";

  interface Props {
    name: string;
    stamp: string;
    /** Whether something in it is not saved: then it is saved or discarded first. */
    changed: boolean;
  }
  let { name, stamp, changed }: Props = $props();

  const act = new Action();
  let to = $state<string | null>(null);
  let field = $state<HTMLInputElement>();
  $effect(() => field?.select());
  const [folder = "", file = ""] = $derived(name.split("/"));
  const bare = $derived(file.replace(/\.\w+$/, ""));

  function show(shown: string | null) {
    connection.readAgain();
    address.go(placeOf(folder, shown));
  }

  /** What the other files say of it is left as it is; so it is said that they do. */
  function broken(moved: MovedFile): string {
    const files = [...new Set(moved.problems.map((p) => p.file))];
    if (!files.length) return "";
    return ` ${counted(moved.problems.length, "problem")} came of it, in ${files.join(", ")}.`;
  }

  async function move(from: { name: string; stamp: string }, bareName: string) {
    const moved = await ask(api.POST("/api/file/rename", { body: { ...from, to: bareName } }));
    dropDraft(from.name);
    show(moved.name);
    return moved;
  }

  function rename(event: SubmitEvent) {
    event.preventDefault();
    const [before, wanted] = [bare, (to ?? "").trim()];
    if (!wanted || wanted === before) return (to = null);
    return act.run(async () => {
      const moved = await move({ name, stamp }, wanted);
      to = null;
      undo.offer(`${before} is now ${wanted}.${broken(moved)}`, async () => {
        await move({ name: moved.name, stamp: moved.stamp ?? "" }, before);
      });
    });
  }

  function remove() {
    const removed = name;
    return act.run(async () => {
      const moved = await ask(api.POST("/api/file/remove", { body: { name, stamp } }));
      dropDraft(removed);
      show(null);
      undo.offer(`${removed} was removed.${broken(moved)}`, async () => {
        await ask(api.POST("/api/file/restore", { body: { name: removed } }));
        show(removed);
      });
    });
  }
</script>

{#if to === null}
  {@const title = changed ? "Save or discard your changes first" : undefined}
  <Button onclick={() => (to = bare)} disabled={changed || act.busy} {title}>Rename</Button>
  <Button onclick={remove} disabled={changed || act.busy} {title}>Remove</Button>
{:else}
  <form class="flex items-center gap-1.5" onsubmit={rename}>
    <Field
      bind:value={to}
      bind:element={field}
      aria-label="New name"
      pattern="[A-Za-z0-9][A-Za-z0-9_.\-]*"
      required
      onkeydown={(e) => e.key === "Escape" && (to = null)}
    />
    <Button type="submit" kind="go" disabled={act.busy}>Rename</Button>
    <Button onclick={() => (to = null)}>Leave it</Button>
  </form>
{/if}
<Fault message={act.fault} class="" />
