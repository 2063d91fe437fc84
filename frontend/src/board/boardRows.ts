/** The board's rows: which tasks are shown, in what order, under which headings. */

import type { Board, Cell } from "../api/client";

export const FAMILIES = ["choice", "arguments", "order", "failures", "latency", "outcome"];

/** What is shown of a board; all of it stands in the address. */
export interface View {
  find: string;
  /** Tasks with a cell that `failed`, `wavers`, `changed`, had `errors`, or lost in this family. */
  only: string;
  /** As in the files, or what passes least first. */
  order: "" | "worst";
  group: "" | "tag";
}

export interface Row {
  suite: string;
  task: string;
  title: string | null;
  cells: (Cell | undefined)[];
}

export interface Group {
  heading: string | null;
  rows: Row[];
}

/** The agents that a view shows, those that it names first; both lists as the address has them. */
export function agentsShown<Agent extends { agent: string }>(
  agents: Agent[],
  hidden: string[],
  first: string[],
): Agent[] {
  const place = (one: Agent) => {
    const at = first.indexOf(one.agent);
    return at < 0 ? first.length : at;
  };
  const shown = agents.filter((one) => !hidden.includes(one.agent));
  return [...shown].sort((a, b) => place(a) - place(b)); // a stable sort: the others stay as they are
}

export function keyOf(cell: { suite: string; task: string; agent: string }): string {
  return `${cell.suite}/${cell.task}/${cell.agent}`;
}

/** Why cells are known to fail, by their keys. */
export function knownCells(board: Board): Map<string, string> {
  const groups = board.ledger.groups.filter((g) => g.kind === "known");
  return new Map(groups.flatMap((g) => g.entries.map((e) => [keyOf(e), g.known ?? ""] as const)));
}

function fits(cell: Cell, only: string, changed: ReadonlySet<string>): boolean {
  if (only === "failed") return cell.passes < cell.n;
  if (only === "wavers") return cell.passes > 0 && cell.passes < cell.n;
  if (only === "errors") return cell.errors > 0;
  if (only === "changed") return changed.has(keyOf(cell));
  return cell.comb.some((t) => t.family === only && t.score !== null && t.score < 1);
}

/** The share of a row's trials that passed; a row without any counts as calm. */
function rate(row: Row): number {
  const passes = row.cells.reduce((sum, c) => sum + (c?.passes ?? 0), 0);
  const judged = row.cells.reduce((sum, c) => sum + (c?.n ?? 0), 0);
  return judged ? passes / judged : 1;
}

/** The rows of a board under a view, of the agents that are shown. */
export function groupsOf(board: Board, agents: string[], view: View): Group[] {
  const cells = new Map(board.cells.map((c) => [keyOf(c), c]));
  const moved = board.ledger.groups.filter((g) => g.kind !== "known");
  const changed = new Set(moved.flatMap((g) => g.entries.map(keyOf)));
  const find = view.find.toLowerCase();
  const groups = new Map<string, Row[]>();
  const put = (heading: string, row: Row) => {
    const rows = groups.get(heading);
    if (rows) rows.push(row);
    else groups.set(heading, [row]);
  };
  for (const { suite, tasks } of board.suites)
    for (const { task, title, tags } of tasks) {
      const row = {
        suite,
        task,
        title,
        cells: agents.map((agent) => cells.get(keyOf({ suite, task, agent }))),
      };
      const words = [suite, task, title ?? "", ...tags].join(" ").toLowerCase();
      if (find && !words.includes(find)) continue;
      if (view.only && !row.cells.some((c) => c && fits(c, view.only, changed))) continue;
      if (view.group !== "tag") put(suite, row);
      else for (const tag of tags.length ? tags : ["no tag"]) put(tag, row);
    }
  const several = groups.size > 1 || board.suites.length > 1;
  const made = [...groups].map(([heading, rows]) => ({
    heading: several ? heading : null,
    rows: view.order === "worst" ? [...rows].sort((a, b) => rate(a) - rate(b)) : rows,
  }));
  if (view.order !== "worst") return made;
  const worst = (g: Group) => Math.min(...g.rows.map(rate));
  return made.sort((a, b) => worst(a) - worst(b));
}
