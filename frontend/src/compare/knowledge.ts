/** What plans may name, read once for the editor: agents, suites, tasks, models, servers, modes. */
import type { Completion } from "@codemirror/autocomplete";
import { api, ask, type Workspace } from "../api/client";
import type { Knows } from "../editor/completion";
import type { Knowledge } from "../editor/editor";

const named = (labels: string[], type: string, more = ""): Completion[] =>
  labels.map((label) => ({ label, apply: label + more, type }));

/** Completions at a place of a plan. */
export function planKnows(workspace: () => Workspace | null): Knows {
  return (place) => {
    const there = workspace();
    if (!there) return [];
    const path = [...place.path, ...(place.key === null ? [] : [place.key])].filter(
      (step) => step !== "[]",
    );
    const servers = there.servers ?? [];
    const isKey = place.key === null;
    switch (path.join("/")) {
      case "suites":
        return named(
          there.suites.map((suite) => suite.suite),
          "variable",
        );
      case "tasks":
        return there.suites.flatMap((suite) =>
          named(
            suite.tasks.map((task) => `${suite.suite}/${task.task}`),
            "variable",
          ),
        );
      case "agents":
        return named(
          there.agents.map((agent) => agent.agent),
          "variable",
        );
      case "vary/model":
        return named(there.models ?? [], "variable");
      case "vary/server":
      case "baseline/server":
        return isKey
          ? named(
              servers.map((one) => one.server),
              "property",
              ": ",
            )
          : [];
      case "vary/decoys/from":
        return named(
          servers.filter((one) => one.modes.includes("mock")).map((one) => one.server),
          "variable",
        );
    }
    const [vary, kind, ...rest] = path;
    if (vary === "vary" && kind === "server" && rest.length === 1)
      return named(servers.find((one) => one.server === rest[0])?.modes ?? [], "enum");
    if (vary === "vary" && (kind === "wording" || kind === "offer") && rest.length === 1)
      return named(
        servers.map((one) => one.server),
        "property",
        ": ",
      );
    return [];
  };
}

export async function planKnowledge(): Promise<Knowledge> {
  const workspace = await ask(api.GET("/api/workspace")).catch(() => null);
  return {
    knows: planKnows(() => workspace),
    tells: (word) => workspace?.agents.find((agent) => agent.agent === word)?.title ?? null,
  };
}
