/** The keys of what is shown: places say theirs, one listener heeds them, `?` lists them. */

import { untrack } from "svelte";

export interface Key {
  /** As the browser names it: `p`, `ArrowLeft`. */
  key: string;
  does: string;
  run: () => void;
}

class Keys {
  private places = $state.raw<(() => Key[])[]>([]);
  readonly here = $derived(this.places.flatMap((keys) => keys()));

  /** Heeds a component's keys as long as it is there. */
  add(keys: () => Key[]) {
    $effect(() => {
      this.places = [...untrack(() => this.places), keys];
      return () => (this.places = this.places.filter((other) => other !== keys));
    });
  }

  /** Does what a key stands for, unless somebody types. */
  heed(event: KeyboardEvent) {
    if (event.defaultPrevented || event.metaKey || event.ctrlKey || event.altKey) return;
    if (isTyping(event.target as HTMLElement) || document.querySelector("dialog[open]")) return;
    const key = this.here.find((one) => one.key === event.key);
    if (!key) return;
    event.preventDefault();
    key.run();
  }
}

export const keys = new Keys();

function isTyping(target: HTMLElement): boolean {
  return target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName);
}

/** A key as a person reads it. */
export const keyName = (key: string) =>
  ({ ArrowLeft: "←", ArrowRight: "→", ArrowUp: "↑", ArrowDown: "↓" })[key] ?? key;
