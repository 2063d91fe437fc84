<script lang="ts">
  /* The agent's words with their values marked: copied, worked out, or from nowhere. Each leads
     to the call that it came from. */
  import type { ReplyValue } from "../api/client";
  import { percent } from "../values/text";

  interface Props {
    text: string;
    values: ReplyValue[];
    chosen: string | null;
    onchoose: (id: string) => void;
  }
  let { text, values, chosen, onchoose }: Props = $props();

  interface Piece {
    text: string;
    value: ReplyValue | null;
  }
  // Places count characters as Python does: by code points.
  const pieces = $derived.by(() => {
    const signs = [...text];
    const found: Piece[] = [];
    let at = 0;
    for (const value of values) {
      const end = value.start + [...value.text].length;
      if (value.start < at || end > signs.length) continue;
      found.push({ text: signs.slice(at, value.start).join(""), value: null });
      found.push({ text: signs.slice(value.start, end).join(""), value });
      at = end;
    }
    return [...found, { text: signs.slice(at).join(""), value: null }];
  });

  const calls = (value: ReplyValue) =>
    value.sources.filter((s) => !["user", "instructions", "clock"].includes(s));

  function origin(value: ReplyValue): string {
    if (value.origin === "unsupported") return `${value.text}: from nowhere that was seen`;
    if (value.origin === "doubtful")
      return `${value.text}: in doubt; worked out as ${value.how ?? ""}, but so would be ${percent(value.chance ?? 0)} of such numbers`;
    const from = value.sources
      .map(
        (s) => ({ user: "the user", instructions: "the instructions", clock: "the clock" })[s] ?? s,
      )
      .join(" and ");
    return value.origin === "derived"
      ? `${value.text}: worked out, ${value.how ?? ""}, from ${from}`
      : `${value.text}: from ${from}`;
  }

  /** The call that it came from; the same again goes to its next source. */
  function follow(value: ReplyValue) {
    const ids = calls(value);
    const next = ids[(ids.indexOf(chosen ?? "") + 1) % ids.length];
    if (next && next !== chosen) onchoose(next);
  }
</script>

{#each pieces as piece, i (i)}{#if piece.value}{@const value = piece.value}<button
      class={[
        "value inline p-0 border-0 bg-transparent text-inherit underline underline-offset-3 cursor-pointer [font:inherit] [text-decoration-thickness:1.5px] [text-decoration-color:var(--holds)]",
        value.origin,
        { lit: calls(value).includes(chosen ?? "") },
      ]}
      title={origin(value)}
      aria-label={origin(value)}
      disabled={calls(value).length === 0}
      onclick={() => follow(value)}>{piece.text}</button
    >{:else}{piece.text}{/if}{/each}

<style>
  .value:disabled {
    cursor: default;
  }
  .derived {
    text-decoration-style: dashed;
  }
  .doubtful {
    color: var(--doubt);
    text-decoration-style: dotted;
    text-decoration-color: var(--doubt);
  }
  .unsupported {
    color: var(--broke);
    text-decoration-style: double;
    text-decoration-color: var(--broke);
  }
  .lit {
    background: var(--holds-wash);
  }
</style>
