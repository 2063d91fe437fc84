<script lang="ts">
  /* A chart in the theme's colours. What it shows is said in words beside it, by `label`. */
  import { theme } from "../frame/theme.svelte";
  import type { ChartOption } from "./charts";

  interface Props {
    /** The chart, given the theme's colours by name. */
    option: (colour: (name: string) => string) => ChartOption;
    label: string;
    height: number;
    /** Told of what was clicked, by its place in its series. */
    onpick?: (series: string, index: number) => void;
  }
  let { option, label, height, onpick }: Props = $props();

  let holder: HTMLDivElement;
  let fault = $state("");

  const colour = (name: string) => getComputedStyle(holder).getPropertyValue(`--${name}`).trim();

  $effect(() => {
    void theme.dark; // the colours are read anew
    const shown = option(colour);
    let close = () => {};
    let gone = false;
    import("./charts").then(
      ({ init }) => {
        if (gone) return;
        const chart = init(holder, null, { renderer: "svg" });
        chart.setOption({
          animation: false,
          textStyle: { fontFamily: "inherit", fontSize: 11, color: colour("soft") },
          ...shown,
        });
        chart.on("click", (event) => onpick?.(event.seriesName ?? "", event.dataIndex));
        const fit = new ResizeObserver(() => chart.resize());
        fit.observe(holder);
        close = () => {
          fit.disconnect();
          chart.dispose();
        };
      },
      () => (fault = "The chart could not be loaded."),
    );
    return () => {
      gone = true;
      close();
    };
  });
</script>

{#if fault}<p class="text-sm text-soft">{fault}</p>{/if}
<div bind:this={holder} style:height={`${height}px`} role="img" aria-label={label}></div>
