<script lang="ts">
  /* To anything by its name, and the common acts: what is typed narrows both. */
  import { address } from "../address.svelte";
  import { api, ask, type FoundThing } from "../api/client";
  import { Resource, Rested } from "../api/resource.svelte";
  import { live } from "../dock/live.svelte";
  import { placeOf, stem } from "../editor/drafts";
  import Dialog from "../kit/Dialog.svelte";
  import Fault from "../kit/Fault.svelte";
  import Field from "../kit/Field.svelte";
  import Button from "../kit/Button.svelte";
  import { PLACES } from "./places";
  import { theme } from "./theme.svelte";

  interface Props {
    onkeys: () => void;
    onclose: () => void;
  }
  let { onkeys, onclose }: Props = $props();
  const REST_MS = 120;

  let words = $state("");
  let at = $state(0);
  let field = $state<HTMLInputElement>();
  let list = $state<HTMLElement>();

  const typed = $derived(words.trim());
  const rested = new Rested(() => typed, REST_MS);
  const found = new Resource(() =>
    rested.value ? ask(api.GET("/api/find", { params: { query: { words: rested.value } } })) : null,
  );

  interface Step {
    kind: string;
    name: string;
    run: () => void;
  }
  interface Line extends Step {
    more: string;
  }
  const act = (name: string, run: () => void): Step => ({ kind: "act", name, run });
  const steps = $derived<Step[]>([
    ...PLACES.map(({ name, at }) => ({ kind: "place", name, run: () => address.go(at) })),
    act("Start a run", () => address.go("/board?start=1")),
    act("Bring a server in", () => address.go("/servers?view=new")),
    act("Connect an agent", () => address.go("/agents?view=new")),
    act("Make or test a model", () => address.go("/agents?view=models")),
    act("See or set a secret", () => address.go("/agents?view=secrets")),
    act("Turn the theme", () => theme.turn()),
    act("Keys of this place", onkeys),
    ...(live.going ? [act("Stop the run that goes on", () => void live.stop())] : []),
  ]);
  const lines = $derived.by((): Line[] => {
    const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
    const fitting = steps.filter(({ name }) => wanted.every((w) => name.toLowerCase().includes(w)));
    return [
      ...fitting.map((step) => ({ ...step, more: "" })),
      ...(found.value?.found ?? []).map((thing) => ({
        kind: thing.kind,
        name: thing.name,
        more: thing.title ?? (thing.kind === "tool" ? (thing.within ?? "") : ""),
        run: () => address.go(addressOf(thing)),
      })),
    ];
  });

  function addressOf({ kind, name, within }: FoundThing): string {
    const safe = encodeURIComponent(name);
    if (kind === "tool") return `/servers/${encodeURIComponent(within ?? "")}?tool=${safe}`;
    if (kind === "task") return `/tasks/${stem(within ?? "")}?task=${safe}`;
    if (kind === "plan") return placeOf("plans", within ?? null);
    if (kind === "run") return `/board/${name}`;
    return kind === "trial" ? `/trial/${name}` : `/${kind}s/${safe}`;
  }

  $effect(() => {
    void lines.length;
    at = 0;
  });
  $effect(() => field?.focus());
  $effect(() => list?.children[at]?.scrollIntoView({ block: "nearest" }));

  function go(line: Line | undefined) {
    if (!line) return;
    onclose();
    line.run();
  }

  function byKey(event: KeyboardEvent) {
    if (event.key === "Enter") go(lines[at]);
    else if (event.key === "ArrowDown") at = Math.min(at + 1, lines.length - 1);
    else if (event.key === "ArrowUp") at = Math.max(at - 1, 0);
    else return;
    event.preventDefault();
  }
</script>

<Dialog title="Go to" {onclose}>
  <div data-testid="go-to">
    <Field
      wide
      bind:value={words}
      bind:element={field}
      onkeydown={byKey}
      placeholder="A server, tool, task, agent, run, trial, or what to do"
      role="combobox"
      aria-label="What to go to"
      aria-expanded="true"
      aria-controls="go-to-list"
      aria-activedescendant={lines[at] ? `go-to-${at}` : undefined}
    />
    <Fault message={found.fault} />
    <div
      id="go-to-list"
      class="mt-2 h-80 overflow-auto"
      role="listbox"
      aria-label="What there is"
      bind:this={list}
    >
      {#each lines as line, i (`${line.kind} ${line.name} ${line.more} ${i}`)}
        <Button
          kind="row"
          class={["flex items-baseline gap-3", i === at && "bg-raised"]}
          id={`go-to-${i}`}
          role="option"
          tabindex={-1}
          aria-selected={i === at}
          onclick={() => go(line)}
        >
          <span class="w-14 flex-none text-xs text-soft">{line.kind}</span>
          <span class="font-medium">{line.name}</span>
          <span class="truncate text-soft">{line.more}</span>
        </Button>
      {/each}
    </div>
    <p class="mt-2 text-sm text-soft" aria-live="polite">
      {lines.length
        ? "↑ ↓ choose, Enter goes there"
        : found.reading || rested.value !== typed
          ? "Looking…"
          : "Nothing has that name."}
    </p>
  </div>
</Dialog>
