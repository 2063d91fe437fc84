<script lang="ts">
  /* A run as a report: what it says as text, to be copied, and both forms to be kept. */
  import { api, ask } from "../api/client";
  import { Action, Resource } from "../api/resource.svelte";
  import Button from "../kit/Button.svelte";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import TextArea from "../kit/TextArea.svelte";
  import Waiting from "../kit/Waiting.svelte";
  import { keepText } from "./keeping";

  interface Props {
    run: number;
    /** The run that it is held against; without one, what each cell was before. */
    against: number | null;
    onclose: () => void;
  }
  let { run, against, onclose }: Props = $props();
  const read = (form: "html" | "markdown") =>
    ask(
      api.GET("/api/runs/{run}/report", {
        params: { path: { run }, query: against === null ? { form } : { form, against } },
      }),
    );
  const text = new Resource(() => read("markdown"));
  const act = new Action();
  let copied = $state(false);
  const keepPage = () =>
    act.run(async () => {
      const page = await read("html");
      keepText(page.name, page.text);
    });

  async function copy() {
    await navigator.clipboard.writeText(text.value?.text ?? "");
    copied = true;
  }
</script>

<Dialog title={`Report of run ${run}`} {onclose}>
  <div data-testid="report">
    <p class="flex flex-wrap items-center gap-3 mb-3">
      <Button kind="go" onclick={keepPage} disabled={act.busy}
        >{act.busy ? "Making the page…" : "Keep as a page (HTML)"}</Button
      >
      {#if text.value}
        {@const made = text.value}
        <Button onclick={() => keepText(made.name, made.text)}>Keep as markdown</Button>
        <Button onclick={copy}>{copied ? "Copied" : "Copy the markdown"}</Button>
      {/if}
    </p>
    <p class="mb-2 text-sm text-soft">
      The page stands by itself: it asks nothing of anywhere, prints, and shows each failing cell
      with its tracks. The markdown is short enough for a merge request.
    </p>
    <Fault message={act.fault || text.fault} />
    {#if text.value}
      <TextArea class="mono" rows={16} readonly value={text.value.text} aria-label="The markdown" />
    {:else if !text.fault}
      <Waiting>Reading the run…</Waiting>
    {/if}
  </div>
</Dialog>
