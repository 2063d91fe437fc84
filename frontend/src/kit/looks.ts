/** How controls look: the one place for it. Colours are Ferox's own, the same in both themes. */

/** A field that takes text, and a choice of some. */
export const FIELD =
  "inline-block rounded-sm border border-line bg-raised text-ink text-sm px-1.5 py-0.5 " +
  "placeholder:text-soft hover:border-soft disabled:opacity-50";

const BUTTON = "font-normal cursor-pointer disabled:cursor-default disabled:opacity-50";

export const BUTTONS = {
  /** What may be done. */
  plain:
    `${BUTTON} inline-block rounded-sm border border-line bg-raised text-ink px-2.5 py-0.5 ` +
    "whitespace-nowrap hover:not-disabled:border-soft aria-pressed:border-ink",
  /** What is mostly done here; one in a group. */
  go: `${BUTTON} inline-block rounded-sm bg-ink text-sheet px-3.5 py-1 whitespace-nowrap`,
  /** What unfolds or shows more, within text. */
  link: `${BUTTON} inline p-0 text-soft underline underline-offset-2 hover:text-ink`,
  /** One of a list: chosen when pressed. */
  row:
    `${BUTTON} block w-full text-left text-sm px-2 py-1 border-b border-faint wrap-anywhere ` +
    "hover:bg-sheet aria-pressed:bg-sheet aria-pressed:shadow-[inset_3px_0_var(--iron)]",
  /** One of a few ways, side by side: chosen when pressed. */
  way:
    `${BUTTON} inline-block border-b-2 border-transparent text-soft px-1.5 py-0.5 ` +
    "hover:text-ink aria-pressed:border-iron aria-pressed:text-ink",
  /** Text that leads to what it is about. */
  text: `${BUTTON} inline p-0 text-left wrap-anywhere hover:bg-raised`,
} as const;

export type ButtonKind = keyof typeof BUTTONS;
