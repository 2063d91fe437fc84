/** Texts that something else made for the editor; they wait until their file is opened. */

export interface Reason {
  what: string;
  why: string;
}

export interface Draft {
  text: string;
  /** What the file was like when the text was made from it; null: it is new. */
  stamp: string | null;
  notes: string[];
  note: string;
  line?: number;
  reasons?: Reason[];
}

/** The name of a suite's file, without its folder and ending. */
export const stem = (file: string) => file.replace(/^tasks\/|\.yaml$/g, "");

/** A task made from what happened, put into its suite's text: where the editor shows it. */
export function taskToReview(made: {
  name: string;
  text: string;
  stamp: string | null;
  task: string;
  reasons: Reason[];
}): string {
  const lines = made.text.split("\n");
  putDraft(made.name, {
    text: made.text,
    stamp: made.stamp,
    notes: [],
    note: "Made from what happened; it is not saved yet.",
    line: lines.findIndex((l) => l.trim() === `- task: ${made.task}`) + 1,
    reasons: made.reasons,
  });
  return `/tasks/${stem(made.name)}?task=${made.task}`;
}

const key = (file: string) => `draft ${file}`;

export function putDraft(file: string, draft: Draft) {
  sessionStorage.setItem(key(file), JSON.stringify(draft));
}

/** The draft of a file, without taking it. */
export function peekDraft(file: string): Draft | null {
  const kept = sessionStorage.getItem(key(file));
  return kept ? (JSON.parse(kept) as Draft) : null;
}

export function takeDraft(file: string): Draft | null {
  const draft = peekDraft(file);
  sessionStorage.removeItem(key(file));
  return draft;
}
