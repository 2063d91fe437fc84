<script lang="ts">
  import { address } from "../address.svelte";
  import { PLACES } from "./places";
  import { theme } from "./theme.svelte";
  import Button from "../kit/Button.svelte";

  let { name }: { name: string } = $props();
</script>

<header class="flex items-center gap-5.5 h-10.5 px-4.5 border-b border-b-line bg-sheet">
  <a
    class="flex items-center gap-1.75 font-semibold no-underline [letter-spacing:0.01em]"
    href="/board"
    aria-label="Ferox, to the board"
  >
    <svg viewBox="0 0 16 16" width="17" height="17" aria-hidden="true">
      <path d="M3 3v10M3 3.8h10M3 8h6.5" fill="none" stroke="var(--iron)" stroke-width="2.4" />
      <circle cx="12.3" cy="8" r="1.7" fill="var(--iron)" />
    </svg>
    Ferox
  </a>
  <nav class="flex gap-4.5 h-full" aria-label="Places">
    {#each PLACES as place (place.at)}
      <a
        class="flex items-center border-t-2 border-t-transparent border-b-2 border-b-transparent text-soft no-underline"
        href={place.at}
        aria-current={address.path.startsWith(place.at) ||
        (address.path === "/" && place.at === "/board")
          ? "page"
          : undefined}
      >
        {place.name}
      </a>
    {/each}
  </nav>
  <span class="soft ml-auto truncate" title={name}>{name}</span>
  <Button onclick={() => theme.turn()} title="Turn the theme">
    {theme.dark ? "Light" : "Dark"}
  </Button>
</header>

<style>
  nav a[aria-current] {
    color: var(--ink);
    border-bottom-color: var(--iron);
  }
</style>
