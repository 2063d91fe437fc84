<script lang="ts">
  /* Content as the protocol has it: words and tables, images, sounds, links, resources. */
  import type { Json } from "./json";
  import Value from "./Value.svelte";
  import { grouped } from "./text";

  let { block }: { block: Record<string, unknown> } = $props();

  const kind = $derived(
    String(block["type"] ?? ("text" in block || "blob" in block ? "resource" : "")),
  );
  const inner = $derived(
    kind === "resource" ? ((block["resource"] ?? block) as Record<string, unknown>) : block,
  );
  const mime = $derived(String(inner["mimeType"] ?? ""));
  const words = $derived(typeof inner["text"] === "string" ? inner["text"] : null);
  const data = $derived(inner["data"] ?? inner["blob"]);
  const parsed = $derived.by((): Json => {
    if (words === null) return block as Json;
    if (!/^\s*[[{]/.test(words)) return words;
    try {
      return JSON.parse(words) as Json;
    } catch {
      return words;
    }
  });
  const source = $derived(
    typeof data === "string" && /^[A-Za-z0-9+/=\s]*$/.test(data)
      ? `data:${mime || "application/octet-stream"};base64,${data}`
      : null,
  );
  const safe = $derived(/^https?:/.test(String(block["uri"] ?? "")));
</script>

{#if kind === "resource_link"}
  <p class="my-0.5 wrap-anywhere">
    <span class="soft">a link to</span>
    {#if safe}
      <a href={String(block["uri"])} target="_blank" rel="noreferrer noopener">{block["uri"]}</a>
    {:else}
      <span class="mono">{block["uri"]}</span>
    {/if}
    <span class="soft">{block["title"] ?? block["name"] ?? ""} {block["description"] ?? ""}</span>
  </p>
{:else}
  {#if kind === "resource" && inner["uri"]}
    <p class="soft my-0.5 wrap-anywhere"><span class="mono">{inner["uri"]}</span> {mime}</p>
  {/if}
  {#if words !== null}
    <Value value={parsed} />
  {:else if source && mime.startsWith("image/")}
    <img
      class="max-w-full border border-line bg-raised"
      alt={String(block["name"] ?? "an image of the result")}
      src={source}
    />
  {:else if source && mime.startsWith("audio/")}
    <audio class="w-full" controls src={source}></audio>
  {:else if source}
    <p class="soft">
      {mime || "data"}, {grouped(String(data).length)} characters of base64
    </p>
  {:else}
    <Value value={block as Json} />
  {/if}
{/if}
