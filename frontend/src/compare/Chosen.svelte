<script lang="ts">
  /* What was chosen where another tool was expected, on each side. */
  import type { ConfusionReport } from "../api/client";
  import Table from "../kit/Table.svelte";

  let { confusions }: { confusions: ConfusionReport[] } = $props();
  const sorted = $derived([...confusions].sort((one, other) => other.a + other.b - one.a - one.b));
</script>

<section aria-label="What was chosen instead" data-testid="chosen-instead">
  <h2>What was chosen instead</h2>
  {#if sorted.length}
    <Table wide>
      <thead>
        <tr class="text-left text-soft">
          <th class="font-medium" scope="col">expected</th>
          <th class="font-medium" scope="col">chosen</th>
          <th class="font-medium" scope="col">A</th>
          <th class="font-medium" scope="col">B</th>
        </tr>
      </thead>
      <tbody>
        {#each sorted as one (`${one.expected} ${one.chosen}`)}
          <tr class="border-t border-t-faint">
            <td class="py-0.5 pr-2 wrap-anywhere">{one.expected}</td>
            <td class="pr-2 wrap-anywhere">{one.chosen}</td>
            <td class="pr-2">{one.a || "–"}</td>
            <td>{one.b || "–"}</td>
          </tr>
        {/each}
      </tbody>
    </Table>
  {:else}
    <p class="text-sm text-soft">No tool was chosen in another’s place.</p>
  {/if}
</section>
