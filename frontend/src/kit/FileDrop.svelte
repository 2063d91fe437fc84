<script lang="ts">
  /* Where a file is dropped, or chosen by a press or a key. */
  let { file, label, onfile }: { file: File | null; label: string; onfile: (file: File) => void } =
    $props();

  function take(files: FileList | null | undefined) {
    const first = files?.[0];
    if (first) onfile(first);
  }
</script>

<label
  class="block mb-3 rounded-sm border border-dashed border-soft p-4 text-center cursor-pointer
    focus-within:outline-2 focus-within:outline-iron"
  ondragover={(e) => e.preventDefault()}
  ondrop={(e) => {
    e.preventDefault();
    e.stopPropagation();
    take(e.dataTransfer?.files);
  }}
>
  {#if file}<b class="wrap-anywhere">{file.name}</b>
    <span class="text-soft">{Math.ceil(file.size / 1024)} kB</span>
  {:else}Drop a file here, or press to choose one{/if}
  <input
    class="sr-only"
    type="file"
    aria-label={label}
    onchange={(e) => take(e.currentTarget.files)}
  />
</label>
