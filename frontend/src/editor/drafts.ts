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
  told: string;
  line?: number;
  reasons?: Reason[];
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
