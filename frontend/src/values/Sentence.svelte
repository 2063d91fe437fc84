<!-- A plain sentence whose `names` in backticks stand in the font of code. -->
<script lang="ts">
  let { words }: { words: string } = $props();
</script>

{#each words.split("`") as part, place (place)}{#if place % 2}<code>{part}</code
    >{:else}{part}{/if}{/each}
