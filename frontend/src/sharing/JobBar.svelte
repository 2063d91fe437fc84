<script lang="ts">
  /* How far work is that goes on in Ferox. */
  interface Props {
    job: { state: string; done: number; total: number };
    noun: string;
  }
  let { job, noun }: Props = $props();
</script>

{#if job.state === "running"}
  <p class="flex items-center gap-3 mt-2 text-sm">
    <progress class="w-60" max={job.total || 1} value={job.done} aria-label="Progress"></progress>
    <span class="text-soft">{job.done} of {job.total || "…"} {noun}</span>
  </p>
{/if}
