<script lang="ts">
  /* A result's checks by family, what failed first; of many, what is held is folded away. */
  import { SvelteSet } from "svelte/reactivity";
  import type { Check, Result } from "../api/trace";
  import Button from "../kit/Button.svelte";
  import { grouped } from "../values/text";

  interface Props {
    result: Result;
    chosen: string | null;
    onlight: (check: Check) => void;
  }
  let { result, chosen, onlight }: Props = $props();
  const MANY = 40;
  const whole = new SvelteSet<string>();
  const families = ["choice", "arguments", "order", "failures", "latency", "outcome"];
  const rank = (c: Check) => (c.passed === false ? 0 : c.passed === null ? 1 : 2);

  function of(family: string): Check[] {
    return result.checks.filter((c) => c.family === family).sort((a, b) => rank(a) - rank(b));
  }
  /** As many as show at once; all up to the one that is chosen. */
  function shown(checks: Check[], family: string): Check[] {
    if (whole.has(family)) return checks;
    return checks.slice(0, Math.max(MANY, checks.findIndex((c) => c.id === chosen) + 1));
  }
  const key = (check: Check, i: number) => `${check.id}#${i}`;
</script>

{#each families as family (family)}
  {@const score = result.scores[family] ?? null}
  {@const checks = of(family)}
  {@const first = shown(checks, family)}
  <section class="mb-2">
    <h3 class="flex justify-between mb-px border-b border-b-faint mt-0">
      {family}
      <span class={score === null ? "soft" : score >= 1 ? "text-holds" : "text-broke"}>
        {score === null ? "not tested" : score.toFixed(2)}
      </span>
    </h3>
    <ul>
      {#each first as check, i (key(check, i))}
        <li>
          <Button
            kind="text"
            class={[
              "grid w-full grid-cols-[11px_1fr] min-h-6 items-baseline gap-1.5 py-0.5 text-sm",
              chosen === check.id && "bg-raised",
            ]}
            onclick={() => onlight(check)}
            aria-pressed={chosen === check.id}
          >
            <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden="true">
              {#if check.passed}
                <path d="M1.5 1.5h8v8h-8z" fill="var(--holds)" />
              {:else if check.passed === false}
                <path d="M1.5 1.5h8l-4 4 4 4h-8z" fill="var(--broke)" />
              {:else}
                <path d="M2 5.5h7" stroke="var(--soft)" stroke-width="1.5" />
              {/if}
            </svg>
            <span class="absolute w-px h-px overflow-hidden [clip-path:inset(50%)]">
              {check.passed ? "held" : check.passed === false ? "failed" : "remark"}
            </span>
            <span>
              <span class="mono">{check.id}</span>
              <span class={check.passed === false ? "" : "soft"}>{check.message}</span>
            </span>
          </Button>
        </li>
      {/each}
    </ul>
    {#if first.length < checks.length}
      <Button kind="link" onclick={() => whole.add(family)}>all {grouped(checks.length)}</Button>
    {/if}
  </section>
{/each}
