<script lang="ts">
  import { address } from "../address.svelte";
  import { theme } from "./theme.svelte";
  import Button from "../kit/Button.svelte";

  let { name }: { name: string } = $props();
  // In the order of the work; the board is where Ferox opens.
  const places = [
    { name: "Servers", at: "/servers" },
    { name: "Tasks", at: "/tasks" },
    { name: "Agents", at: "/agents" },
    { name: "Board", at: "/board" },
  ];
</script>

<header>
  <a class="mark" href="/board" aria-label="Ferox, to the board">
    <svg viewBox="0 0 16 16" width="17" height="17" aria-hidden="true">
      <path d="M3 3v10M3 3.8h10M3 8h6.5" fill="none" stroke="var(--iron)" stroke-width="2.4" />
      <circle cx="12.3" cy="8" r="1.7" fill="var(--iron)" />
    </svg>
    Ferox
  </a>
  <nav aria-label="Places">
    {#each places as place (place.at)}
      <a
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
  <span class="workspace soft" title={name}>{name}</span>
  <Button onclick={() => theme.turn()} title="Turn the theme">
    {theme.dark ? "Light" : "Dark"}
  </Button>
</header>

<style>
  header {
    display: flex;
    align-items: center;
    gap: 22px;
    height: 42px;
    padding: 0 18px;
    border-bottom: 1px solid var(--line);
    background: var(--sheet);
  }
  .mark {
    display: flex;
    align-items: center;
    gap: 7px;
    font-weight: 650;
    text-decoration: none;
    letter-spacing: 0.01em;
  }
  nav {
    display: flex;
    gap: 18px;
    height: 100%;
  }
  nav a {
    display: flex;
    align-items: center;
    text-decoration: none;
    border-bottom: 2px solid transparent;
    border-top: 2px solid transparent;
    color: var(--soft);
  }
  nav a[aria-current] {
    color: var(--ink);
    border-bottom-color: var(--iron);
  }
  .workspace {
    margin-left: auto;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
