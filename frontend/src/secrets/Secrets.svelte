<script lang="ts">
  /* Which secrets the workspace names, which are set and from where; a value goes in, none out. */
  import { api, ask, type SecretLine } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import { Typed } from "../editor/typed.svelte";
  import Notice from "../frame/Notice.svelte";
  import Button from "../kit/Button.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Table from "../kit/Table.svelte";
  import Waiting from "../kit/Waiting.svelte";

  const list = new Resource(() => ask(api.GET("/api/secrets")));
  const act = new Action();
  const typed = new Typed("a secret", { name: "", value: "" }, { secret: true });
  let said = $state("");

  const STATES: Record<SecretLine["state"], string> = {
    env_file: "set, in .env",
    environment: "set, by Ferox's environment",
    not_allowed: "not read: a variable of this name is set where Ferox runs",
    not_set: "not set",
  };

  function keep(event: SubmitEvent) {
    event.preventDefault();
    const { name, value } = typed.fields;
    return act.run(async () => {
      const params = { path: { secret: name.trim() } };
      list.put(await ask(api.PUT("/api/secrets/{secret}", { params, body: { value } })));
      typed.clear();
      said = `${name} is kept in .env. Whatever starts from now on gets it; nothing has to be restarted.`;
    });
  }

  function allow(name: string) {
    return act.run(async () => {
      const params = { path: { secret: name } };
      list.put(await ask(api.POST("/api/secrets/{secret}/allow", { params })));
    });
  }
</script>

<section
  class="min-h-0 pt-2.5 pb-6 px-4.5 overflow-auto"
  aria-label="Secrets"
  data-testid="secrets"
>
  <h1>Secrets</h1>
  <p class="soft max-w-180 mb-3">
    Files name a secret by <code>{"{secret: NAME}"}</code>. Its value stands in the workspace's
    <code>.env</code>, which is never committed, and is read when a server or an agent starts. It is
    shown nowhere, not here either, and goes only where you agreed.
  </p>
  <form class="flex flex-wrap items-end gap-3 mb-4 text-sm" onsubmit={keep}>
    <label
      >Name <Field
        class="mono"
        bind:value={typed.fields.name}
        required
        pattern="[A-Za-z_][A-Za-z0-9_]*"
        placeholder="TIDES_KEY"
        title="Letters, digits and underscores"
      /></label
    >
    <label
      >Value <Field
        class="mono w-80!"
        type="password"
        autocomplete="off"
        bind:value={typed.fields.value}
        required
      /></label
    >
    <Button type="submit" kind="go" disabled={act.busy}>Keep it in .env</Button>
  </form>
  <Fault message={act.fault || list.fault} class="mb-3" />
  {#if said}<p class="mb-3 text-holds" role="status">{said}</p>{/if}
  {#if list.value?.secrets.length}
    <Table wide class="max-w-260">
      <thead>
        <tr class="text-left text-soft">
          {#each ["secret", "value", "named in", "may go to"] as head (head)}
            <th class="py-1 pr-5 font-normal" scope="col">{head}</th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each list.value.secrets as one (one.name)}
          {@const isSet = one.state === "env_file" || one.state === "environment"}
          <tr class="border-t border-t-faint align-top">
            <td class="mono py-1.25 pr-5">{one.name}</td>
            <td class={["py-1.25 pr-5", isSet ? "text-holds" : "text-doubt"]}>
              {STATES[one.state]}
              {#if one.state === "not_allowed"}
                <Button kind="link" onclick={() => allow(one.name)}>Read it from there</Button>
              {:else if !isSet}
                <Button kind="link" onclick={() => (typed.fields.name = one.name)}>Set it</Button>
              {/if}
            </td>
            <td class="py-1.25 pr-5"
              >{one.named_in.join(", ")}{#if !one.named_in.length}<span class="soft">no file</span
                >{/if}</td
            >
            <td class="py-1.25 pr-5 wrap-anywhere"
              >{one.may_go_to.join(", ")}{#if !one.may_go_to.length}<span class="soft"
                  >nowhere yet: you are asked first</span
                >{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </Table>
  {:else if list.value}
    <Notice title="No secret yet">
      <p>
        No file names one, and there is none in <code>.env</code>. A key that is pasted with a
        server goes there by itself.
      </p>
    </Notice>
  {:else if !list.fault}
    <Waiting>Reading the secrets…</Waiting>
  {/if}
</section>
