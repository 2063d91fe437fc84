/** Plans as text: what a new one begins with, and what *Start a run* makes of its choices. */
import type { RewordBasis, Workspace } from "../api/client";

export interface Chosen {
  tasks: string[];
  agents: string[];
  repeats: number;
}

export interface Varied {
  models: string[];
  withoutTools: boolean;
  /** Modes by server. */
  modes: Record<string, string[]>;
  decoys: { from: string; add: number[] } | null;
}

/** How many arms come of what is varied, for each agent. */
export function armsOf(varied: Varied): number {
  const sizes = [
    new Set(varied.models).size,
    varied.withoutTools ? 2 : 1,
    ...Object.values(varied.modes).map((modes) => modes.length),
    varied.decoys?.add.length ?? 1,
  ];
  return sizes.reduce((product, size) => product * Math.max(1, size), 1);
}

const list = (names: readonly (string | number)[]) => `[${names.join(", ")}]`;

/** A plan of what was chosen and varied. */
export function planText(plan: string, chosen: Chosen, varied: Varied): string {
  const vary: string[] = [];
  if (varied.models.length) vary.push(`  model: ${list(varied.models)}`);
  if (varied.withoutTools) vary.push("  offer: {with_tools: as_is, no_tools: none}");
  const modes = Object.entries(varied.modes).filter(([, of]) => of.length > 1);
  if (modes.length) {
    vary.push(`  server: {${modes.map(([server, of]) => `${server}: ${list(of)}`).join(", ")}}`);
  }
  if (varied.decoys) {
    vary.push(`  decoys: {from: ${varied.decoys.from}, add: ${list(varied.decoys.add)}}`);
  }
  return [
    "ferox: 1",
    `plan: ${plan}`,
    "tasks:",
    ...chosen.tasks.map((task) => `  - ${task}`),
    `agents: ${list(chosen.agents)}`,
    ...(vary.length ? ["vary:", ...vary] : ["vary: {}"]),
    "design: one_at_a_time   # the baseline, and each other value by itself; or full",
    `trials: ${chosen.repeats}`,
    "",
  ].join("\n");
}

/** A name that no plan has yet. */
export function freePlanName(workspace: Workspace): string {
  const taken = new Set(workspace.plans ?? []);
  let n = 1;
  while (taken.has(`plan-${n}`)) n += 1;
  return `plan-${n}`;
}

/** What a new plan begins with: the first suite and agent, on two models if there are. */
export function newPlanText(plan: string, workspace: Workspace): string {
  const models = (workspace.models ?? []).slice(0, 2);
  return [
    "ferox: 1",
    `plan: ${plan}`,
    `suites: ${list(workspace.suites.slice(0, 1).map((suite) => suite.suite))}`,
    `agents: ${list(workspace.agents.slice(0, 1).map((agent) => agent.agent))}`,
    "vary:",
    `  model: ${list(models)}`,
    "trials: 5",
    "",
  ].join("\n");
}

export interface Words {
  name: string;
  description: string;
}

/** A plan that holds new words of two tools against the words that they have. */
export function rewordingPlan(
  plan: string,
  basis: RewordBasis,
  words: Record<string, Words>,
): string {
  const servers: Record<string, string[]> = {};
  for (const tool of [basis.expected, basis.chosen]) {
    const [server = "", own = ""] = tool.address.split("/");
    const now = words[tool.address] ?? tool;
    const parts = [
      ...(now.name !== tool.name ? [`name: ${JSON.stringify(now.name)}`] : []),
      ...(now.description !== tool.description
        ? [`description: ${JSON.stringify(now.description)}`]
        : []),
    ];
    if (parts.length) (servers[server] ??= []).push(`        ${own}: {${parts.join(", ")}}`);
  }
  return [
    "ferox: 1",
    `plan: ${plan}`,
    "tasks:",
    ...basis.touched.map((task) => `  - ${task}`),
    ...(basis.untouched.length ? ["  # Neither tool is expected here: would they be harmed?"] : []),
    ...basis.untouched.map((task) => `  - ${task}`),
    `agents: ${list(basis.agents)}`,
    "vary:",
    "  wording:",
    "    as_is: as_is",
    "    yours:",
    ...Object.entries(servers).flatMap(([server, tools]) => [`      ${server}:`, ...tools]),
    "until: {looks: [3, 5, 8, 13, 20], same_within: 0.05}",
    "",
  ].join("\n");
}
