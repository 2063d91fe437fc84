<script lang="ts">
  /* The times of both sides as distributions: how many trials took no longer than that. */
  import Chart from "../kit/Chart.svelte";
  import type { ChartOption } from "../kit/charts";
  import { duration } from "../values/text";

  let { a, b }: { a: number[]; b: number[] } = $props();

  const median = (times: number[]) => times[Math.floor((times.length - 1) / 2)] ?? 0;
  const label = $derived(
    `Times of turns: half of A's trials took at most ${duration(median(a))}, half of B's at most ` +
      duration(median(b)),
  );
  const steps = (times: number[]) => times.map((ms, i) => [ms, (100 * (i + 1)) / times.length]);

  function option(colour: (name: string) => string): ChartOption {
    const axis = { axisLine: { lineStyle: { color: colour("line") } } };
    const text = { color: colour("soft") };
    return {
      grid: { left: 44, right: 16, top: 14, bottom: 24 },
      xAxis: {
        ...axis,
        type: "value",
        scale: true,
        splitLine: { show: false },
        axisLabel: { ...text, formatter: (ms: number) => duration(ms) },
      },
      yAxis: {
        ...axis,
        type: "value",
        max: 100,
        splitLine: { lineStyle: { color: colour("faint") } },
        axisLabel: { ...text, formatter: (share: number) => `${share} %` },
      },
      series: [
        { name: "A", times: a, type: "dashed" as const },
        { name: "B", times: b, type: "solid" as const },
      ].map(({ name, times, type }) => ({
        type: "line",
        name,
        step: "end",
        symbol: "none",
        lineStyle: { color: colour("ink"), width: 1.8, type },
        endLabel: { show: true, formatter: name, color: colour("ink") },
        data: steps(times),
      })),
    };
  }
</script>

{#if a.length > 1 && b.length > 1}
  <figure class="mt-3" data-testid="times">
    <figcaption class="text-sm text-soft">{label}. A dashed, B solid.</figcaption>
    <Chart {option} {label} height={190} />
  </figure>
{/if}
