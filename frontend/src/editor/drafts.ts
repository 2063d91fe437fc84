/** Texts of files that are not saved yet: typed, or made by something else for the editor. */

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

/** The name of a suite's or a plan's file, without its folder and ending. */
export const stem = (file: string) => file.replace(/^(tasks|plans)\/|\.yaml$/g, "");

/** Where a file of a folder is shown; without one, where its folder is. */
export function placeOf(folder: string, file: string | null): string {
  if (folder === "stand_ins")
    return `/agents?view=models${file ? `&file=${encodeURIComponent(file)}` : ""}`;
  if (folder === "plans") return `/compare?view=plans${file ? `&plan=${stem(file)}` : ""}`;
  if (!file) return `/${folder}`;
  return folder === "tasks" ? `/tasks/${stem(file)}` : `/${file.replace(/\.\w+$/, "")}?view=file`;
}

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

/** Drafts of workspaces that are served at the same address one after the other stay apart. */
let workspace = "";

export function keepDraftsFor(name: string) {
  workspace = name;
}

const key = (file: string) => `draft ${workspace} ${file}`;

// In the browser, not only in the tab: what was typed outlives that too.
export function putDraft(file: string, draft: Draft) {
  localStorage.setItem(key(file), JSON.stringify(draft));
}

/** The draft of a file, if it has one. */
export function draftOf(file: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(key(file)) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

/** What the draft said is saved, or not wanted. */
export function dropDraft(file: string) {
  localStorage.removeItem(key(file));
}
