/** What the editor of suites knows besides the format's schema: the servers' actual tools and
    arguments, matchers, and the names that a task has given. */
import type { Completion } from "@codemirror/autocomplete";
import { snippetCompletion } from "@codemirror/autocomplete";
import type { KnownTool } from "../api/client";
import type { Place } from "../editor/place";

/** Each matcher as it is written, and what it means. */
export const MATCHERS: Record<string, [string, string]> = {
  equal: ["equal: ${value}", "Equal as JSON: 2 equals 2.0."],
  one_of: ["one_of: [${value}]", "One of these plain values."],
  near: ["near: ${7.9}, within: ${0.5}", "A number, within a distance or a percentage of this."],
  matches: ['matches: "${regex}"', "Text in which this regular expression is found."],
  contains: ["contains: ${part}", "Text, a list or an object that contains this."],
  same_words: ["same_words: ${text}", "The same words in order; case and punctuation aside."],
  day: ["day: ${today}", "A day under the trial's clock: today, +2, next monday, end of month."],
  plus: [
    "day: {from: ${call}, path: ${$.date}, plus: ${3}}",
    "A day so many days after one that a call brought.",
  ],
  time: ['time: "${2031-03-14T15:00:00Z}", within_min: ${30}', "A moment, within minutes of this."],
  plus_min: [
    "time: {from: ${call}, path: ${$.opens}, plus_min: ${30}}",
    "A moment so many minutes after one that a call brought.",
  ],
  from: ["from: ${call}, path: ${$.id}", "A value found in that call's result, or in a truth."],
  pattern: [
    'from: ${call}, pattern: "${IMO (\\\\d+)}"',
    "A piece of that call's text that the pattern finds.",
  ],
  of: ["from: ${call}, of: ${lines}", "A line, list item or link of that call's text."],
  column: ["from: ${call}, column: ${IMO}", "A cell under this heading of a table in its text."],
  seen: ["seen: true", "A value that the user or any earlier result said."],
  from_user: ["from_user: true", "A value that the user said."],
  schema: ["schema: {${type: string}}", "Valid under this JSON Schema."],
  absent: ["absent: true", "Not given at all."],
  any: ["any: true", "Given, whatever it is."],
  every: ["every: ${matcher}", "A list of which each element fits the matcher."],
  not: ["not: ${matcher}", "Whatever does not fit the matcher."],
  all: ["all: [${matcher}]", "What fits all of these matchers."],
};

const BESIDE_TOOLS = ["never", "may_poll", "others", "by"];

/** The text of the task that a line belongs to. */
function taskAt(text: string, line: number): string {
  const lines = text.split("\n");
  const begins = (l: string | undefined) => /^\s*- task:/.test(l ?? "");
  let from = line;
  while (from > 0 && !begins(lines[from])) from -= 1;
  let to = line + 1;
  while (to < lines.length && !begins(lines[to])) to += 1;
  return lines.slice(from, to).join("\n");
}

/** The names that a task has given to its truths and calls. */
function namesIn(text: string): string[] {
  const given = [...text.matchAll(/\bas:\s*([A-Za-z0-9][\w.-]*)/g)].map((m) => m[1] ?? "");
  const short = [...text.matchAll(/\btool:\s*[^/\s]+\/([\w.-]+)/g)].map((m) => m[1] ?? "");
  return [...new Set([...given, ...short])].filter(
    (name) => !["text", "number", "day", "time"].includes(name) || given.includes(name),
  );
}

function inArgs(path: string[]): boolean {
  return (
    path.includes("args") ||
    ["is", "if_message"].includes(path.at(-1) ?? "") ||
    path.includes("edit")
  );
}

export function taskKnows(
  tools: () => KnownTool[],
  servers: () => { server: string; modes: string[] }[],
) {
  const addresses = (): Completion[] =>
    tools().map((tool) => ({
      label: tool.tool,
      type: "function",
      info: `${tool.description}\n(${tool.arguments.map((a) => a.name + (a.required ? "" : "?")).join(", ")})`,
    }));

  const args = (tool: string): Completion[] =>
    (tools().find((t) => t.tool === tool)?.arguments ?? []).map((a) => ({
      label: a.name,
      apply: `${a.name}: `,
      type: "property",
      detail: `${a.type}${a.required ? ", required" : ""}`,
      info: a.description || (a.choices.length ? `one of ${a.choices.join(", ")}` : undefined),
      boost: a.required ? 2 : 1,
    })) as Completion[];

  const choices = (tool: string, name: string): Completion[] => {
    const found = tools()
      .find((t) => t.tool === tool)
      ?.arguments.find((a) => a.name === name);
    return (found?.choices ?? []).map((label) => ({ label, type: "enum" }));
  };

  const names = (text: string, line: number): Completion[] =>
    namesIn(taskAt(text, line)).map((label) => ({ label, type: "variable" }));

  return (place: Place, text: string): Completion[] => {
    const { path, key, beside } = place;
    const last = path.at(-1);
    if (key === "tool") {
      const server = beside["server"];
      if (!server) return addresses();
      return addresses()
        .filter((a) => a.label.startsWith(`${server}/`))
        .map((a) => ({ ...a, label: a.label.slice(server.length + 1) }));
    }
    if (key === null && last === "[]" && BESIDE_TOOLS.includes(path.at(-2) ?? ""))
      return addresses();
    if (key === "from" || key === "write") return names(text, place.line);
    if (key === null && path.slice(-3).join() === "order,[],[]") return names(text, place.line);
    if (key === "server" || (path.join() === "servers" && key === null))
      return servers().map((s) => ({ label: s.server, type: "class" }));
    if (path.join() === "servers" && key)
      return (servers().find((s) => s.server === key)?.modes ?? []).map((label) => ({
        label,
        type: "enum",
      }));
    if (last === "args" || last === "edit") {
      const tool = beside["tool"] ?? "";
      return key === null ? args(tool) : choices(tool, key);
    }
    if (inArgs(path) && key === null)
      return Object.entries(MATCHERS).map(([label, [written, info]]) =>
        snippetCompletion(written, { label, type: "keyword", info }),
      );
    return [];
  };
}
