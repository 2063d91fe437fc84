/** What *Start a run* begins with: what the place shows, else the last choice, never everything. */

import type { Board, Workspace } from "../api/client";

export interface Chosen {
  /** As suite/task. */
  tasks: string[];
  agents: string[];
}

const KEY = "ferox-last-run";

/** The address of a task, which is its own in the workspace. */
export function addressOf(suite: string, task: string): string {
  return `${suite}/${task}`;
}

/** Every task of a workspace, by its address. */
export function addresses(workspace: Workspace): string[] {
  return workspace.suites.flatMap((s) => s.tasks.map((t) => addressOf(s.suite, t.task)));
}

/** The choice to begin with, of what the workspace still has; `wanted` is a suite that is to be
 * run. */
export function firstChoice(
  workspace: Workspace,
  shown: Board | null,
  wanted: string | null = null,
): Chosen {
  const known = { tasks: addresses(workspace), agents: workspace.agents.map((a) => a.agent) };
  const still = (chosen: Chosen): Chosen => ({
    tasks: known.tasks.filter((t) => chosen.tasks.includes(t)),
    agents: known.agents.filter((a) => chosen.agents.includes(a)),
  });
  const ofBoard = shown && {
    tasks: shown.cells.map((c) => addressOf(c.suite, c.task)),
    agents: shown.agents.map((a) => a.file), // of arms, the agents that they vary
  };
  const wholeOf = (suite: Workspace["suites"][number] | undefined): Chosen => ({
    tasks: suite?.tasks.map((t) => addressOf(suite.suite, t.task)) ?? [],
    agents: known.agents.slice(0, 1),
  });
  const asked = workspace.suites.find((s) => s.suite === wanted);
  if (asked) return wholeOf(asked);
  for (const chosen of [ofBoard, lastChoice(workspace.name)]) {
    const left = chosen && still(chosen);
    if (left?.tasks.length && left.agents.length) return left;
  }
  return wholeOf(workspace.suites[0]);
}

function lastChoice(workspace: string): Chosen | null {
  try {
    return JSON.parse(localStorage.getItem(`${KEY} ${workspace}`) ?? "null") as Chosen | null;
  } catch {
    return null;
  }
}

/** Keeps a choice for the next run of this workspace. */
export function keepChoice(workspace: string, chosen: Chosen) {
  localStorage.setItem(`${KEY} ${workspace}`, JSON.stringify(chosen));
}
