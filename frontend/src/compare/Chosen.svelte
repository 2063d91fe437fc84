<script lang="ts">
  /* What was chosen where another tool was expected, on each side, beside how alike they look. */
  import type { ConfusionReport, LookAlikesReport } from "../api/client";
  import Button from "../kit/Button.svelte";
  import Table from "../kit/Table.svelte";
  import RewordPair from "./RewordPair.svelte";

  interface Props {
    confusions: ConfusionReport[];
    never: LookAlikesReport[];
    /** The two sides: each a run, or an agent in it. */
    a: string;
    b: string;
  }
  let { confusions, never, a, b }: Props = $props();
  const FEW = 12;
  const FEW_NEVER = 4;
  let all = $state(false);
  let allNever = $state(false);

  const shown = $derived(all ? confusions : confusions.slice(0, FEW));
  const count = (n: number, of: number | null) => (n ? (of ? `${n} of ${of}` : String(n)) : "–");
  const isPair = (one: ConfusionReport) => one.likeness !== null;
  let rewording = $state.raw<ConfusionReport | null>(null);
</script>

{#snippet trials(ids: number[])}
  {#each ids.slice(0, 2) as trial, i (trial)}
    <a class="ml-1 underline" href={`/trial/${trial}`}>{i ? i + 1 : "trial"}</a>
  {/each}
{/snippet}

<section aria-label="What was chosen instead" data-testid="chosen-instead">
  <h2>What was chosen instead</h2>
  {#if confusions.length}
    <Table wide>
      <thead>
        <tr class="text-left text-soft">
          <th class="font-medium" scope="col">expected</th>
          <th class="font-medium" scope="col">chosen</th>
          <th class="font-medium" scope="col">A</th>
          <th class="font-medium" scope="col">B</th>
          <th
            class="font-medium"
            scope="col"
            title="How alike their names and descriptions are, 0 to 1">alike</th
          >
        </tr>
      </thead>
      <tbody>
        {#each shown as one (`${one.expected} ${one.chosen}`)}
          <tr class="border-t border-t-faint align-baseline">
            <td class="py-0.5 pr-2 wrap-anywhere"
              >{one.expected}{#if one.words_expected.length}<div class="text-soft">
                  only here: {one.words_expected.join(", ")}
                </div>{/if}</td
            >
            <td class="pr-2 wrap-anywhere"
              >{#if isPair(one) || one.chosen.includes("/")}{one.chosen}{:else}<i>{one.chosen}</i
                >{/if}{#if one.words_chosen.length}<div class="text-soft">
                  only here: {one.words_chosen.join(", ")}
                </div>{/if}{#if isPair(one)}<div>
                  <Button kind="link" onclick={() => (rewording = one)}>Reword</Button>
                </div>{/if}</td
            >
            <td class="pr-2 whitespace-nowrap"
              >{count(one.a, one.n_a)}{@render trials(one.trials_a)}</td
            >
            <td class="pr-2 whitespace-nowrap"
              >{count(one.b, one.n_b)}{@render trials(one.trials_b)}</td
            >
            <td class="text-right">{one.likeness === null ? "" : one.likeness.toFixed(2)}</td>
          </tr>
        {/each}
      </tbody>
    </Table>
    {#if confusions.length > FEW}
      <Button kind="link" aria-expanded={all} onclick={() => (all = !all)}
        >{all ? "fewer" : `${confusions.length - FEW} more`}</Button
      >
    {/if}
  {:else}
    <p class="text-sm text-soft">No tool was chosen in another’s place.</p>
  {/if}
  {#if never.length}
    <p class="mt-1 text-sm text-soft">
      Alike on paper, and never confused: {(allNever ? never : never.slice(0, FEW_NEVER))
        .map((pair) => `${pair.one} and ${pair.other} (${pair.likeness.toFixed(2)})`)
        .join("; ")}{#if never.length > FEW_NEVER && !allNever}; <Button
          kind="link"
          onclick={() => (allNever = true)}>{never.length - FEW_NEVER} more</Button
        >{/if}.
    </p>
  {/if}
</section>
{#if rewording}
  <RewordPair
    side={rewording.a > rewording.b ? a : b}
    expected={rewording.expected}
    chosen={rewording.chosen}
    onclose={() => (rewording = null)}
  />
{/if}
