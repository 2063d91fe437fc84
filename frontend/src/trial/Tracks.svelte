<script lang="ts">
  /* A trial's two tracks in a frame: zoomed, dragged along time, only what is in sight drawn. */
  import { tick, untrack } from "svelte";
  import type { TrialView } from "../api/trace";
  import Legend from "./Legend.svelte";
  import { LEFT, RIGHT } from "./measures";
  import type { Scale } from "./time";
  import { inSight, layOut, naturalWidth } from "./tracks";
  import TracksDrawing from "./TracksDrawing.svelte";

  interface Props {
    view: TrialView;
    scale: Scale;
    chosen: string | null;
    lit: Set<string> | null;
    onchoose: (id: string) => void;
  }
  let { view, scale, chosen, lit, onchoose }: Props = $props();
  /** Pixels beyond which browsers no longer scroll to the pixel. */
  const WIDEST = 4_000_000;
  const STEP = 1.6;

  let room = $state(1200);
  let zoom = $state(1);
  let left = $state(0);
  let frame: HTMLDivElement;

  const natural = $derived(naturalWidth(view, room, scale));
  const width = $derived(Math.min(WIDEST, Math.max(room, natural * zoom)));
  const tracks = $derived(layOut(view, width, scale));
  const shown = $derived(inSight(tracks, left, left + room));
  const scrolls = $derived(width > room);

  /** Wider or narrower by a factor; what stands at this place of the frame stays there. */
  export async function zoomBy(factor: number, at = room / 2) {
    const share = (left + at - LEFT) / (width - LEFT - RIGHT);
    const least = Math.min(1, room / natural);
    zoom = Math.min(Math.max(zoom * factor, least), WIDEST / natural);
    await tick();
    frame.scrollLeft = left = LEFT + share * (width - LEFT - RIGHT) - at;
  }
  export const zoomIn = () => zoomBy(STEP);
  export const zoomOut = () => zoomBy(1 / STEP);

  /** All of the trial at once. */
  export function fit() {
    zoom = Math.min(1, room / natural);
  }

  function byWheel(event: WheelEvent) {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    void zoomBy(Math.exp(-event.deltaY / 400), event.clientX - frame.getBoundingClientRect().left);
  }

  function drag(event: PointerEvent) {
    if (event.button !== 0 || (event.target as Element).closest("[role=button]")) return;
    const from = event.clientX + frame.scrollLeft;
    const move = (moved: PointerEvent) => (frame.scrollLeft = from - moved.clientX);
    const drop = () => {
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", drop);
      removeEventListener("pointercancel", drop);
    };
    addEventListener("pointermove", move);
    addEventListener("pointerup", drop);
    addEventListener("pointercancel", drop);
  }

  // What is chosen is brought into sight, wherever it was chosen.
  $effect(() => {
    const id = chosen;
    if (id === null) return;
    untrack(() => {
      const { bars, model, nodes } = tracks;
      const place =
        [...bars, ...model].find((one) => one.id === id) ??
        nodes.find((node) => `=${node.expected.name}` === id);
      if (place && (place.x < left + LEFT || place.x > left + room - RIGHT))
        frame.scrollLeft = place.x - room / 2;
    });
  });
</script>

<div
  class={["overflow-x-auto overflow-y-hidden", scrolls && "cursor-grab active:cursor-grabbing"]}
  bind:this={frame}
  bind:clientWidth={room}
  onscroll={() => (left = frame.scrollLeft)}
  onwheel={byWheel}
  onpointerdown={drag}
  role="presentation"
  data-testid="tracks"
>
  <div style:width={`${width}px`}>
    <svg
      class="sticky left-0 block text-xs select-none"
      width={room}
      height={tracks.height}
      viewBox={`${left} 0 ${room} ${tracks.height}`}
      role="group"
      aria-label="The script's expected calls above, the agent's calls below"
    >
      <TracksDrawing {view} tracks={shown} {left} {chosen} {lit} {onchoose} />
    </svg>
  </div>
</div>
<Legend {tracks} />
