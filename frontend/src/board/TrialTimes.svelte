<script lang="ts">
  /* How long each trial of a cell took: a sign each, by its verdict, and the median. */
  import { address } from "../address.svelte";
  import type { TrialLine } from "../api/client";
  import Chart from "../kit/Chart.svelte";
  import type { ChartOption } from "../kit/charts";
  import { counted, duration } from "../values/text";

  let { trials }: { trials: TrialLine[] } = $props();
  const HEIGHT = 96;
  const STEPS = 40;
  const ROWS = 5;
  const FLAG = "path://M0 0h10L6.4 5 10 10H0z";
  const KINDS = [
    { verdict: "pass", colour: "holds", symbol: "rect" },
    { verdict: "fail", colour: "broke", symbol: FLAG },
    { verdict: "unjudged", colour: "soft", symbol: "emptyRect" },
  ] as const;

  const timed = $derived(trials.filter((t) => t.turn_ms !== null && t.verdict !== "error"));
  const sorted = $derived(timed.map((t) => t.turn_ms ?? 0).sort((a, b) => a - b));
  const median = $derived.by(() => {
    const half = sorted.length / 2;
    const [low, high] = [sorted[Math.ceil(half) - 1] ?? 0, sorted[Math.floor(half)] ?? 0];
    return (low + high) / 2;
  });
  const label = $derived(
    `Times of ${counted(timed.length, "trial")}: from ${duration(sorted[0] ?? 0)} to ` +
      `${duration(sorted.at(-1) ?? 0)}, median ${duration(median)}`,
  );
  const ofKind = (verdict: string) => timed.filter((t) => t.verdict === verdict);

  /** Trials that took about as long stand above each other: the row of each. */
  const rows = $derived.by(() => {
    const span = Math.max(1, (sorted.at(-1) ?? 0) - (sorted[0] ?? 0));
    const taken: Record<number, number> = {};
    return timed.map((trial) => {
      const step = Math.round(((trial.turn_ms ?? 0) / span) * STEPS);
      const row = taken[step] ?? 0;
      taken[step] = row + 1;
      return row % ROWS;
    });
  });
  const points = (of: TrialLine[]) =>
    of.map((trial) => [trial.turn_ms ?? 0, rows[timed.indexOf(trial)] ?? 0]);

  function option(colour: (name: string) => string): ChartOption {
    const line = { lineStyle: { color: colour("line") } };
    return {
      grid: { left: 8, right: 16, top: 8, bottom: 22 },
      tooltip: {
        backgroundColor: colour("raised"),
        borderColor: colour("line"),
        textStyle: { color: colour("ink"), fontSize: 12 },
        formatter: (at) => {
          const { seriesName = "", dataIndex = 0 } = Array.isArray(at) ? (at[0] ?? {}) : at;
          const trial = ofKind(seriesName)[dataIndex];
          return trial ? `trial ${trial.number}: ${duration(trial.turn_ms)}` : "";
        },
      },
      xAxis: {
        type: "value",
        scale: true,
        axisLine: line,
        splitLine: { show: false },
        axisLabel: { color: colour("soft"), formatter: (ms: number) => duration(ms) },
      },
      yAxis: { type: "value", show: false, min: -0.7, max: 4.7 },
      series: KINDS.map((kind, i) => ({
        type: "scatter",
        name: kind.verdict,
        symbol: kind.symbol,
        symbolSize: 9,
        cursor: "pointer",
        itemStyle: { color: colour(kind.colour) },
        data: points(ofKind(kind.verdict)),
        ...(i === 0 && {
          markLine: {
            silent: true,
            symbol: "none",
            lineStyle: { color: colour("soft"), type: "dashed" },
            label: { formatter: "median", color: colour("soft"), position: "insideEndTop" },
            data: [{ xAxis: median }],
          },
        }),
      })),
    };
  }

  function open(verdict: string, index: number) {
    const trial = ofKind(verdict)[index];
    if (trial) address.go(`/trial/${trial.id}`);
  }
</script>

{#if timed.length > 1}
  <figure class="w-90 flex-none" data-testid="trial-times">
    <figcaption class="text-sm text-soft">{label}</figcaption>
    <Chart {option} {label} height={HEIGHT} onpick={open} />
  </figure>
{/if}
