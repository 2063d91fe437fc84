<script lang="ts">
  /* Two texts line by line: what went, what came, and a few lines around it. */
  import { diffLines } from "diff";

  let { before, after }: { before: string; after: string } = $props();
  const AROUND = 2;

  interface Line {
    sign: "−" | "+" | " ";
    text: string;
  }
  const lines = $derived.by(() => {
    const all: Line[] = diffLines(before, after).flatMap((part) =>
      part.value
        .replace(/\n$/, "")
        .split("\n")
        .map((text): Line => ({ sign: part.added ? "+" : part.removed ? "−" : " ", text })),
    );
    const near = (i: number) =>
      all.slice(Math.max(0, i - AROUND), i + AROUND + 1).some((line) => line.sign !== " ");
    return all.flatMap((line, i): (Line | null)[] =>
      near(i) ? [line] : i > 0 && near(i - 1) ? [null] : [],
    );
  });
</script>

<div class="mono whitespace-pre-wrap wrap-anywhere" data-testid="text-diff">
  {#each lines as line, i (i)}
    {#if line}
      <div class={{ went: line.sign === "−", came: line.sign === "+" }}>
        <span class="inline-block w-3.5 text-soft">{line.sign}</span>{line.text}
      </div>
    {:else}<div class="soft">…</div>{/if}
  {/each}
</div>

<style>
  .went {
    background: var(--broke-wash);
  }
  .came {
    background: var(--holds-wash);
  }
</style>
