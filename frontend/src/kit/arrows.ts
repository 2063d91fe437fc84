/** The arrow keys move the focus within a list, as the keys of a list do everywhere. */

import type { ActionReturn } from "svelte/action";

const STEPS: Record<string, (at: number, count: number) => number> = {
  ArrowDown: (at, count) => Math.min(at + 1, count - 1),
  ArrowUp: (at) => Math.max(at - 1, 0),
  Home: () => 0,
  End: (_, count) => count - 1,
};

/** `wanted` is a selector of what the focus moves between. */
export function byArrows(node: HTMLElement, wanted: string): ActionReturn {
  function move(event: KeyboardEvent) {
    const step = STEPS[event.key];
    if (!step || event.altKey || event.ctrlKey || event.metaKey) return;
    const target = event.target as HTMLElement;
    if (target.matches("input, textarea, select, [contenteditable]")) return;
    const all = [...node.querySelectorAll<HTMLElement>(wanted)];
    const at = all.findIndex((one) => one === document.activeElement);
    if (at < 0) return;
    event.preventDefault();
    all[step(at, all.length)]?.focus();
  }
  return onKeys(node, move);
}

/** In a table the arrow keys move the focus from cell to cell, past rows that have none. */
export function byCells(node: HTMLElement, wanted: string): ActionReturn {
  const cellsOf = (row: Element) => [...row.querySelectorAll<HTMLElement>(wanted)];

  function beside(cell: HTMLElement, key: string): HTMLElement | undefined {
    const row = cell.closest("tr");
    if (!row) return undefined;
    const cells = cellsOf(row);
    const at = cells.indexOf(cell);
    if (key === "ArrowLeft" || key === "ArrowRight")
      return cells[at + (key === "ArrowLeft" ? -1 : 1)];
    const column = cell.closest("td")?.cellIndex;
    const step = key === "ArrowDown" ? "nextElementSibling" : "previousElementSibling";
    for (let next = row[step]; next; next = next[step]) {
      const found = cellsOf(next).find((one) => one.closest("td")?.cellIndex === column);
      if (found) return found;
    }
    return undefined;
  }

  function move(event: KeyboardEvent) {
    const cell = (event.target as HTMLElement).closest<HTMLElement>(wanted);
    if (!cell || !event.key.startsWith("Arrow")) return;
    event.preventDefault();
    beside(cell, event.key)?.focus();
  }
  return onKeys(node, move);
}

function onKeys(node: HTMLElement, heed: (event: KeyboardEvent) => void): ActionReturn {
  node.addEventListener("keydown", heed);
  return { destroy: () => node.removeEventListener("keydown", heed) };
}
