<script lang="ts">
  /* A difference of rates with its interval, on an axis that all of its column share. */
  import type { ArmReport } from "../api/client";

  interface Props {
    found: ArmReport["pass_difference"];
    /** The largest difference or limit that has a place on the axis. */
    reach: number;
  }
  let { found, reach }: Props = $props();
  const WIDTH = 110;
  const at = (value: number) => WIDTH / 2 + ((value / reach) * (WIDTH - 8)) / 2;
  const points = (value: number) =>
    `${value > 0 ? "+" : value < 0 ? "−" : ""}${Math.abs(100 * value).toFixed(0)}`;
  const words = $derived(
    found === null
      ? "–"
      : found.low === null || found.high === null
        ? `${points(found.difference)} points, no interval`
        : `${points(found.difference)} points (${points(found.low)} to ${points(found.high)})`,
  );
</script>

{#if found === null}<span class="text-soft">–</span>{:else}
  <span class="inline-flex items-center gap-2 align-middle whitespace-nowrap" title={words}>
    <svg width={WIDTH} height="14" role="img" aria-label={words}>
      <path class="zero" d={`M${at(0)} 0V14`} />
      {#if found.low !== null && found.high !== null}
        <path class="limits" d={`M${at(found.low)} 7H${at(found.high)}`} />
      {/if}
      <circle cx={at(found.difference)} cy="7" r="3.5" />
    </svg>
    <span class="w-8">{points(found.difference)}</span>
  </span>
{/if}

<style>
  .zero {
    stroke: var(--soft);
    stroke-dasharray: 2 2;
  }
  .limits {
    stroke: var(--ink);
    stroke-width: 4;
    stroke-opacity: 0.4;
  }
  circle {
    fill: var(--ink);
  }
</style>
