<script lang="ts">
  /* Wording what-if: what the agent reads of a tool; the server itself is left alone. */
  import { Typed } from "../editor/typed.svelte";
  import { untrack } from "svelte";
  import { api, ask, type Server, type ToolDetail } from "../api/client";
  import { Action } from "../api/resource.svelte";
  import Fault from "../kit/Fault.svelte";
  import Button from "../kit/Button.svelte";
  import Field from "../kit/Field.svelte";
  import TextArea from "../kit/TextArea.svelte";

  interface Props {
    server: Server;
    tool: ToolDetail;
    ondone: () => void;
  }
  let { server, tool, ondone }: Props = $props();

  const given = $derived(tool.definition);
  const own = $derived(String(given["name"]));
  const shown = untrack(() => tool.reads ?? tool.definition);
  const typed = untrack(
    () =>
      new Typed(`wording of ${server.server}/${own}`, {
        name: String(shown["name"]),
        description: String(shown["description"] ?? ""),
      }),
  );
  const act = new Action();

  function keep(taken: boolean) {
    const { name, description } = typed.fields;
    const changed = {
      ...(name !== own ? { name } : {}),
      ...(description !== (given["description"] ?? "") ? { description } : {}),
    };
    const wording = taken || !Object.keys(changed).length ? null : changed;
    const params = { path: { server: server.server } };
    return act.run(async () => {
      await ask(
        api.POST("/api/servers/{server}/wording", { params, body: { tool: own, wording } }),
      );
      typed.clear();
      ondone();
    });
  }
</script>

<form
  aria-label={`Rewording of ${own}`}
  class="mb-2 pt-0.5 pb-1.5 pl-3 border-l-3 border-l-iron"
  onsubmit={(e) => {
    e.preventDefault();
    void keep(false);
  }}
>
  <p class="soft mt-0.5 mb-1.5 text-sm">
    What agents read in place of the server's own words, in any mode. Calls go back to the tool's
    own name. It stands under <span class="mono">wording</span> in the server's file.
  </p>
  <label class="grid items-start grid-cols-[90px_1fr] mb-1 text-sm"
    >Name <Field wide bind:value={typed.fields.name} /></label
  >
  <label class="grid items-start grid-cols-[90px_1fr] mb-1 text-sm"
    >Description <TextArea rows={3} bind:value={typed.fields.description} /></label
  >
  <Fault message={act.fault} class="mt-0.5 mb-1.5 text-sm" />
  <div class="flex gap-2.5">
    <Button type="submit" kind="go">Let agents read this</Button>
    {#if tool.reads}
      <Button onclick={() => keep(true)}>Back to its own words</Button>
    {/if}
  </div>
</form>
