/** The tools that scripts may name, read once for the editor. */
import { api, ask, type KnownTool } from "../api/client";
import type { Knowledge } from "../editor/editor";
import { MATCHERS, taskKnows } from "./knows";

export async function taskKnowledge(): Promise<Knowledge> {
  let tools: KnownTool[] = [];
  let servers: { server: string; modes: string[] }[] = [];
  try {
    const [known, workspace] = await Promise.all([
      ask(api.GET("/api/suite/tools")),
      ask(api.GET("/api/workspace")),
    ]);
    tools = known.tools;
    servers = workspace.servers ?? [];
  } catch {
    /* Without them the schema still completes. */
  }
  const knows = taskKnows(
    () => tools,
    () => servers,
  );
  return {
    knows,
    tells: (word) => {
      const tool = tools.find((t) => t.tool === word);
      if (tool) {
        const args = tool.arguments.map(
          (a) => `  ${a.name}: ${a.type}${a.required ? ", required" : ""}`,
        );
        return [tool.description, ...args].join("\n");
      }
      return MATCHERS[word]?.[1] ?? null;
    },
  };
}
