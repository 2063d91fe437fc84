<script lang="ts">
  /* Each metric: A hollow, B filled, and the difference with both intervals on one axis. */
  import { scaleLinear } from "d3-scale";
  import type { MetricReport } from "../api/client";
  import Table from "../kit/Table.svelte";
  import { duration } from "../values/text";

  interface Props {
    metrics: MetricReport[];
    margin: number;
  }
  let { metrics, margin }: Props = $props();
  const NAMES: Record<string, string> = {
    pass: "pass rate",
    calls: "calls",
    model_calls: "model calls",
    turn_ms: "time of turns",
    tool_ms: "time of tools",
    agent_ms: "agent itself",
    first_words_ms: "first words",
  };
  const WIDTH = 240;
  const HEIGHT = 22;
  /** Counts have no scale in common with rates: their limits stand in words. */
  const COUNTED = ["calls", "model_calls", "tokens", "money"];
  const shown = $derived(metrics.filter((one) => one.difference !== null));
  const isCounted = (one: MetricReport) => COUNTED.includes(one.metric);

  /** A ratio is drawn by its logarithm, so that half and twice lie as far from the middle. */
  const placed = (one: MetricReport, value: number) => (one.ratio ? Math.log(value) : value);
  const x = $derived.by(() => {
    const reach = shown
      .filter((one) => !isCounted(one))
      .flatMap((one) =>
        [one.these?.low, one.these?.high, one.like_these?.low, one.like_these?.high]
          .filter((limit) => limit !== undefined)
          .map((limit) => Math.abs(placed(one, limit))),
      );
    const far = Math.min(2, Math.max(0.1, ...reach)); // beyond e² times is drawn at the edge
    return scaleLinear()
      .domain([-far, far])
      .range([6, WIDTH - 6])
      .clamp(true);
  });

  const counted = (of: number) =>
    of.toLocaleString("en-GB", { maximumFractionDigits: of < 100 ? 2 : 0 });

  function value(one: MetricReport, of: number | null): string {
    if (of === null) return "–";
    if (one.ratio) return duration(of);
    if (isCounted(one)) return counted(of);
    return of.toFixed(2);
  }

  function amount(one: MetricReport, of: number): string {
    if (one.ratio) return `× ${of.toFixed(2)}`;
    const sign = of > 0 ? "+" : of < 0 ? "−" : "";
    const size = Math.abs(of);
    if (isCounted(one)) return sign + counted(size);
    const points = (100 * size).toFixed(0);
    return `${points === "0" ? "" : sign}${points} points`;
  }

  /** Whether a family that differs by itself does not any more after Holm's correction. */
  const fallsAway = (one: MetricReport) =>
    one.says.startsWith("B ") && one.corrected_p !== null && one.corrected_p > 0.05;

  const limits = (one: MetricReport, of: { low: number; high: number } | null) =>
    of ? `${amount(one, of.low)} to ${amount(one, of.high)}` : "no interval";
</script>

<Table wide class="mt-3" data-testid="metrics" aria-label="Every metric of A and B">
  <thead>
    <tr class="text-left text-soft">
      <th class="py-1 font-medium" scope="col">metric</th>
      <th class="font-medium" scope="col">A</th>
      <th class="font-medium" scope="col">B</th>
      <th class="font-medium" scope="col">difference</th>
      <th class="font-medium" scope="col"
        >95 %: thick on these tasks, thin on tasks like these; shaded: the same</th
      >
      <th class="font-medium" scope="col">what it says</th>
    </tr>
  </thead>
  <tbody>
    {#each shown as one (one.metric)}
      <tr class="border-t border-t-faint" data-metric={one.metric}>
        <th class="py-0.5 pr-3 text-left font-medium whitespace-nowrap" scope="row"
          >{NAMES[one.metric] ?? one.metric}</th
        >
        <td class="pr-3 whitespace-nowrap" title={`${one.n_a} trials of ${one.tasks} tasks`}
          >{value(one, one.a)}</td
        >
        <td class="pr-3 whitespace-nowrap" title={`${one.n_b} trials of ${one.tasks} tasks`}
          >{value(one, one.b)}</td
        >
        <td class="pr-3 whitespace-nowrap">{amount(one, one.difference ?? 0)}</td>
        <td class="pr-3">
          {#if isCounted(one)}
            <span class="text-soft">{limits(one, one.these)}</span>
          {:else}
            <svg
              width={WIDTH}
              height={HEIGHT}
              role="img"
              aria-label={`on these tasks ${limits(one, one.these)}; on tasks like these ${limits(one, one.like_these)}`}
            >
              <title
                >on these tasks {limits(one, one.these)}; on tasks like these {limits(
                  one,
                  one.like_these,
                )}</title
              >
              <rect
                class="same"
                x={x(-margin)}
                y="0"
                width={x(margin) - x(-margin)}
                height={HEIGHT}
              />
              <path class="zero" d={`M${x(0)} 0V${HEIGHT}`} />
              {#if one.like_these}
                <path
                  class="others"
                  d={`M${x(placed(one, one.like_these.low))} 11H${x(placed(one, one.like_these.high))}`}
                />
              {/if}
              {#if one.these}
                <path
                  class="these"
                  d={`M${x(placed(one, one.these.low))} 11H${x(placed(one, one.these.high))}`}
                />
              {/if}
              <circle cx={x(placed(one, one.difference ?? 0))} cy="11" r="4" />
            </svg>
          {/if}
        </td>
        <td class="wrap-anywhere"
          >{one.says}{#if fallsAway(one)}<span class="text-soft"
              >; not once all families are read together (p = {one.corrected_p?.toFixed(2)} after Holm)</span
            >{/if}{#if one.caution}<div class="text-doubt">Careful: {one.caution}.</div>{/if}</td
        >
      </tr>
    {/each}
  </tbody>
</Table>

<style>
  svg {
    display: block;
  }
  .same {
    fill: var(--faint);
  }
  .zero {
    stroke: var(--soft);
    stroke-dasharray: 2 2;
  }
  .others {
    stroke: var(--soft);
    stroke-width: 1.5;
  }
  .these {
    stroke: var(--ink);
    stroke-width: 5;
    stroke-opacity: 0.4;
  }
  circle {
    fill: var(--ink);
  }
</style>
