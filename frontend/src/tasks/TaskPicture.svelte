<script lang="ts">
  /* A task as it is understood: the conversation with the scripted user's branches, the calls
     as their partial order, what is forbidden and what is asked of the answer. */
  import type { Picture } from "../api/client";
  import Calls from "./Calls.svelte";

  interface Props {
    picture: Picture;
    stale: boolean;
    ongoto: (line: number) => void;
  }
  let { picture, stale, ongoto }: Props = $props();
  type Limit = Picture["whole"][number];
</script>

{#snippet limits(list: Limit[])}
  {#if list.length}
    <ul class="limits">
      {#each list as limit, i (i)}
        <li>
          <button onclick={() => ongoto(limit.line)}>
            <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true">
              {#if limit.forbids}
                <path
                  d="M1.5 5.5h8M3.2 2.4v6.2M7.8 2.4v6.2"
                  stroke="var(--iron)"
                  stroke-width="1.3"
                />
              {:else}
                <circle cx="5.5" cy="5.5" r="2.6" fill="var(--soft)" />
              {/if}
            </svg>
            <span>{limit.text}</span>
          </button>
        </li>
      {/each}
    </ul>
  {/if}
{/snippet}

{#snippet facts(title: string, list: string[])}
  {#if list.length}
    <div class="facts">
      <h4>{title}</h4>
      <ul>
        {#each list as fact, i (i)}<li>{fact}</li>{/each}
      </ul>
    </div>
  {/if}
{/snippet}

<div class={["picture", { stale }]} data-testid="picture">
  <h2>{picture.title ?? picture.task}</h2>
  {@render facts("looked up as truth", picture.truths)}
  {@render facts("starts with", picture.given)}
  {@render facts("faults", picture.faults)}
  {#each picture.parts as part, n (n)}
    {#if picture.parts.length > 1}
      <h3>part {n + 1}{part.fresh ? ", a new conversation" : ""}</h3>
    {/if}
    <button class="say" onclick={() => ongoto(part.line)}>
      <span class="soft who">user</span><span>{part.say}</span>
    </button>
    {#each part.rules as rule, i (i)}
      <button class="rule" onclick={() => ongoto(rule.line)}>
        <span class="soft">if the reply fits</span>
        <span class="mono">/{rule.matches}/</span>
        <span class="soft">then</span>
        “{rule.say}”
        {#if rule.grants}<span class="grants">go-ahead {rule.grants}</span>{/if}
        {#if rule.at_most}<span class="soft">at most {rule.at_most} ×</span>{/if}
      </button>
    {/each}
    {#each part.ways as way, i (i)}
      {#if part.ways.length > 1}<h3>{i ? "or" : "either"}</h3>{/if}
      <div class="way">
        {#if way.calls.length}<Calls calls={way.calls} order={way.order} {ongoto} />{/if}
        {@render limits(way.limits)}
      </div>
    {/each}
  {/each}
  {#if picture.whole.length}
    <h3>over all parts</h3>
    {@render limits(picture.whole)}
  {/if}
  {@render facts("approvals", picture.approvals)}
  {@render facts("answers", picture.answers)}
  {@render facts("budget", picture.budget)}
</div>

<style>
  .picture {
    font-size: 12.5px;
  }
  .stale {
    opacity: 0.45;
  }
  h2 {
    font-size: 14px;
    font-weight: 600;
    margin: 0 0 6px;
    overflow-wrap: anywhere;
  }
  h3 {
    font-size: 12.5px;
    font-weight: 600;
    color: var(--iron);
    margin: 12px 0 4px;
  }
  h4 {
    font-size: 12.5px;
    font-weight: 500;
    color: var(--soft);
    margin: 0;
  }
  button {
    min-height: 24px;
    background: none;
    border: 0;
    padding: 1px 0;
    color: inherit;
    text-align: left;
    cursor: pointer;
    width: 100%;
    overflow-wrap: anywhere;
  }
  button:hover {
    background: var(--raised);
  }
  .say {
    display: grid;
    grid-template-columns: 34px 1fr;
    font-weight: 550;
  }
  .who {
    font-weight: 400;
  }
  .rule {
    padding-left: 12px;
    margin-left: 34px;
    border-left: 2px solid var(--line);
    width: calc(100% - 34px);
  }
  .grants {
    color: var(--holds);
    font-weight: 550;
  }
  .way {
    margin-top: 10px;
  }
  .limits {
    list-style: none;
    margin: 10px 0 0;
    padding: 0;
  }
  .limits button {
    display: grid;
    grid-template-columns: 11px 1fr;
    gap: 7px;
    align-items: baseline;
  }
  .facts {
    display: grid;
    grid-template-columns: 110px 1fr;
    gap: 8px;
    margin: 4px 0;
  }
  .facts ul {
    list-style: none;
    margin: 0;
    padding: 0;
    overflow-wrap: anywhere;
  }
</style>
