<script lang="ts">
  /* What agents think with: stand-ins, endpoints and recordings; made, changed, tested. */
  import { address } from "../address.svelte";
  import { api, ask, type ModelLine, type ModelList } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import FileEditor from "../editor/FileEditor.svelte";
  import { connection } from "../frame/connection.svelte";
  import { undo } from "../frame/undo.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import LocalModels from "./LocalModels.svelte";
  import ModelFields from "./ModelFields.svelte";
  import ModelTest from "./ModelTest.svelte";
  import { EMPTY, formOf, type ModelForm } from "./modelForm";

  const list = new Resource(() => ask(api.GET("/api/models")));
  const act = new Action();
  const models = $derived(list.value?.models ?? null);
  const file = $derived(address.query.get("file"));
  const wanted = $derived(address.query.get("model"));
  const making = $derived(wanted === "" || models?.length === 0);
  const line = $derived(
    making ? null : (models?.find((m) => m.name === wanted) ?? (wanted ? null : models?.[0])),
  );
  let begin = $state.raw<ModelForm>(EMPTY);

  function choose(name: string) {
    begin = EMPTY;
    address.go(`/agents?view=models&model=${encodeURIComponent(name)}`);
  }

  function written(now: ModelList, name: string) {
    begin = EMPTY;
    connection.readAgain();
    list.put(now);
    address.go(`/agents?view=models&model=${encodeURIComponent(name)}`);
  }

  function remove(gone: ModelLine) {
    return act.run(async () => {
      const params = { path: { model: gone.name } };
      const now = await ask(api.POST("/api/models/{model}/remove", { params }));
      connection.readAgain();
      list.put(now);
      address.go("/agents?view=models");
      undo.offer(`${gone.name} was taken out of ferox.yaml.`, async () => {
        const body = { source: gone.source, key: null };
        written(await ask(api.PUT("/api/models/{model}", { params, body })), gone.name);
      });
    });
  }
</script>

{#if file}
  <section class="flex flex-col min-h-0 pt-2.5 px-4.5" aria-label={file}>
    <p class="text-sm"><a href="/agents?view=models">Models</a></p>
    {#key file}
      <FileEditor name={file} onsaved={() => connection.readAgain()} />
    {/key}
  </section>
{:else if list.fault && !models}
  <Fault message={list.fault} class="p-4.5" />
{:else if !models || !list.value}
  <Waiting>Reading the models…</Waiting>
{:else}
  <section
    class="grid grid-cols-[minmax(0,5fr)_minmax(0,7fr)] min-h-0 pt-2.5 px-4.5 max-md:block"
    aria-label="Models"
    data-testid="models"
  >
    <div class="min-h-0 pr-4 pb-4 overflow-auto">
      <h1 class="mb-1">Models</h1>
      <p class="soft mb-2 text-sm">
        What agents think with. Each stands in <a href="/agents?view=models&file=ferox.yaml"
          >ferox.yaml</a
        > under a name of its own.
      </p>
      {#each list.value.problems as p, i (i)}
        <p class="mb-1 text-sm text-broke">{p.file}:{p.line}: {p.message}</p>
      {/each}
      <ul class="border-t border-t-faint" aria-label="Every model">
        {#each models as one (one.name)}
          <li>
            <Button
              kind="row"
              aria-pressed={one.name === line?.name}
              onclick={() => choose(one.name)}
            >
              <span class="flex items-baseline gap-2">
                <b class="truncate" title={one.name}>{one.name}</b>
                <span class="soft ml-auto flex-none">{one.simulated ? "simulated" : one.kind}</span>
              </span>
              <span class="block truncate text-soft" title={one.behind}>{one.behind}</span>
              {#if one.secret_set === false}<span class="block text-doubt">its key is not set</span
                >{/if}
              <span
                class="block truncate text-soft"
                title={one.agents.length ? `Used by ${one.agents.join(", ")}` : undefined}
                >{one.agents.length ? `used by ${one.agents.join(", ")}` : "used by no agent"}</span
              >
            </Button>
          </li>
        {/each}
      </ul>
      <p class="mt-2.5">
        <Button onclick={() => choose("")} aria-pressed={making}>Make one</Button>
      </p>
      {#if making}
        <LocalModels onchosen={(url, model) => (begin = { ...EMPTY, name: model, url, model })} />
      {/if}
    </div>
    <div class="min-h-0 pl-4 pb-4 border-l border-l-line overflow-auto">
      {#if making || line}
        <h2 class="mt-1">{line ? line.name : "A new model"}</h2>
        {#key `${line?.name ?? ""} ${begin.url} ${begin.model}`}
          <ModelFields
            form={line ? formOf(line) : begin}
            known={list.value}
            isNew={!line}
            keySet={line?.secret_set ?? null}
            onwritten={written}
          />
          {#if line}
            <ModelTest name={line.name} />
            <p class="mt-4">
              <Button
                onclick={() => remove(line)}
                disabled={act.busy || line.agents.length > 0}
                title={line.agents.length ? "Agents think with it" : undefined}
                >Take it out of ferox.yaml</Button
              >
            </p>
          {/if}
        {/key}
        <Fault message={act.fault} />
      {:else}
        <p class="soft">There is no model {wanted}.</p>
      {/if}
    </div>
  </section>
{/if}
