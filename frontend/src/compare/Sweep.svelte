<script lang="ts">
  /* How choice holds while tools are added: a line for each agent, with what they cost. */
  import type { ArmReport, ArmsReport } from "../api/client";
  import Chart from "../kit/Chart.svelte";
  import type { ChartOption } from "../kit/charts";
  import Choice from "../kit/Choice.svelte";

  let { report }: { report: ArmsReport } = $props();
  type Line = ArmsReport["sweep"][number];

  const MEASURES: Record<string, { words: string; of: (arm: ArmReport) => number | null }> = {
    choice: { words: "choice score", of: (arm) => arm.choice?.mean ?? null },
    pass: { words: "pass rate", of: (arm) => arm.pass_rate?.mean ?? null },
    definitions: { words: "tokens of definitions", of: (arm) => arm.definition_tokens },
    model: { words: "model time of a trial, ms", of: (arm) => arm.model_ms },
    recall: { words: "offered recall", of: (arm) => arm.offered_recall },
    shown: { words: "chosen among those shown", of: (arm) => arm.chosen_of_shown },
  };
  const SHAPES = ["circle", "rect", "triangle", "diamond"];
  const DASHES = ["solid", "dashed", "dotted"] as const;
  let measure = $state("choice");

  const arms = $derived(new Map(report.arms.map((arm) => [arm.arm, arm])));
  const limitsOf = (arm: ArmReport) =>
    measure === "choice" ? arm.choice : measure === "pass" ? arm.pass_rate : null;
  const ofLine = (line: Line) => line.arms.flatMap((name) => arms.get(name) ?? []);
  const said = (line: Line) =>
    line.worse_from === null
      ? `${line.name}: choice is not seen to be worse at any step`
      : `${line.name}: choice is worse from ${line.worse_from} decoys on, by the interval on these tasks`;
  const label = $derived(
    `${MEASURES[measure]?.words} against the number of tools offered. ` +
      report.sweep.map(said).join(". "),
  );

  function option(colour: (name: string) => string): ChartOption {
    const of = MEASURES[measure]?.of ?? (() => null);
    const axis = { axisLine: { lineStyle: { color: colour("line") } } };
    const text = { color: colour("soft") };
    const isShare = ["choice", "pass", "recall", "shown"].includes(measure);
    return {
      grid: { left: 56, right: 150, top: 14, bottom: 36 },
      tooltip: { trigger: "item" },
      xAxis: {
        ...axis,
        type: "value",
        name: "tools offered",
        nameLocation: "middle",
        nameGap: 22,
        splitLine: { show: false },
        axisLabel: text,
      },
      yAxis: {
        ...axis,
        type: "value",
        ...(isShare ? { min: 0, max: 1 } : { min: 0 }),
        splitLine: { lineStyle: { color: colour("faint") } },
        axisLabel: text,
      },
      series: report.sweep.flatMap((line, i) => {
        const points = ofLine(line).filter((arm) => of(arm) !== null);
        const band = points.filter((arm) => limitsOf(arm)?.low != null);
        return [
          {
            type: "line" as const,
            name: line.name,
            symbol: SHAPES[i % SHAPES.length] ?? "circle",
            symbolSize: 7,
            lineStyle: { color: colour("ink"), width: 1.6, type: DASHES[i % DASHES.length] },
            itemStyle: { color: colour("ink") },
            endLabel: { show: true, formatter: line.name, color: colour("ink"), width: 140 },
            data: points.map((arm) => [arm.tools ?? 0, of(arm) ?? 0]),
          },
          {
            type: "custom" as const,
            name: `${line.name}, 95 %`,
            silent: true,
            data: band.map((arm) => [
              arm.tools ?? 0,
              limitsOf(arm)?.low ?? 0,
              limitsOf(arm)?.high ?? 0,
            ]),
            renderItem: (
              _: unknown,
              given: { value: (i: number) => unknown; coord: (of: unknown[]) => number[] },
            ) => {
              const [x, low] = given.coord([given.value(0), given.value(1)]);
              const [, high] = given.coord([given.value(0), given.value(2)]);
              return {
                type: "line" as const,
                shape: { x1: x, y1: low, x2: x, y2: high },
                style: { stroke: colour("soft"), lineWidth: 2 },
              };
            },
          },
        ];
      }) as ChartOption["series"],
    };
  }
</script>

<section class="mt-4" aria-label="The sweep" data-testid="sweep">
  <h2>As tools are added</h2>
  {#each report.sweep as line (line.name)}
    <p class={["text-sm", line.worse_from === null ? "text-soft" : "text-doubt"]}>{said(line)}.</p>
  {/each}
  <label class="mt-1 flex items-center gap-2 text-sm">
    Drawn
    <Choice bind:value={measure} aria-label="What is drawn">
      {#each Object.entries(MEASURES) as [name, { words }] (name)}
        <option value={name}>{words}</option>
      {/each}
    </Choice>
  </label>
  <Chart {option} {label} height={260} />
</section>
