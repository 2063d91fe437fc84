<script lang="ts" generics="Item">
  /* The list at the left of a place: one thing is chosen, the arrows go from one to the next. */
  import type { Snippet } from "svelte";
  import { byArrows } from "./arrows";

  interface Props {
    label: string;
    items: Item[];
    href: (item: Item) => string;
    isChosen: (item: Item) => boolean;
    key: (item: Item) => string;
    title?: (item: Item) => string | null | undefined;
    line: Snippet<[Item]>;
    /** Where another is made, and what else belongs to the place. */
    more: { href: string; words: string; chosen: boolean }[];
  }
  let { label, items, href, isChosen, key, title, line, more }: Props = $props();
  const ROW =
    "block flex-none truncate border-l-3 border-l-transparent py-1.25 pr-3 pl-4.5 no-underline " +
    "aria-[current=page]:border-l-iron aria-[current=page]:bg-sheet";
</script>

<nav
  class="overflow-auto border-r border-r-line py-2.5 max-md:flex max-md:border-r-0 max-md:border-b
    max-md:border-b-line max-md:py-1"
  aria-label={label}
  use:byArrows={"a"}
>
  {#each items as item (key(item))}
    <a
      class={ROW}
      href={href(item)}
      aria-current={isChosen(item) ? "page" : undefined}
      title={title?.(item)}>{@render line(item)}</a
    >
  {/each}
  {#each more as one, i (one.href)}
    <a
      class={[ROW, "text-sm text-soft", i === 0 && "mt-2"]}
      href={one.href}
      aria-current={one.chosen ? "page" : undefined}>{one.words}</a
    >
  {/each}
</nav>
