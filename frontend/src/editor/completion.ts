/** Completion for the workspace's YAML files: keys and values from the format's JSON Schema. */
import type { CompletionContext, CompletionResult } from "@codemirror/autocomplete";

type Schema = Record<string, unknown>;

/** The keys above a line, by its indentation; list items count as one step of `[]`. */
export function pathAt(lines: string[], line: number, column: number): string[] {
  const path: string[] = [];
  let indent = column;
  const own = /^(\s*)((?:- )*)/.exec(lines[line] ?? "");
  if (own) {
    indent = Math.min(column, (own[1] ?? "").length + (own[2] ?? "").length);
    for (let i = 0; i < (own[2] ?? "").length / 2; i++) path.unshift("[]");
    if (own[2]) indent = (own[1] ?? "").length;
  }
  for (let i = line - 1; i >= 0 && indent >= 0; i--) {
    const text = lines[i] ?? "";
    const found = /^(\s*)((?:- )*)(?:"([^"]*)"|'([^']*)'|([^\s#:'"{[][^:#]*)):(\s|$)/.exec(text);
    if (!found) continue;
    const dashes = (found[2] ?? "").length;
    const at = (found[1] ?? "").length + dashes;
    const key = (found[3] ?? found[4] ?? found[5] ?? "").trim();
    if (at < indent || (at === indent && path[0] === "[]" && !dashes)) {
      path.unshift(key);
      if (dashes) {
        path.unshift("[]");
        indent = (found[1] ?? "").length;
      } else indent = at;
    } else if (dashes && (found[1] ?? "").length < indent && at >= indent && path[0] !== "[]") {
      path.unshift("[]");
      indent = (found[1] ?? "").length;
    }
    if (indent === 0 && path[0] !== "[]") break;
  }
  return path;
}

function resolve(schema: unknown, root: Schema): Schema[] {
  if (typeof schema !== "object" || schema === null) return [];
  const one = schema as Schema;
  if (typeof one["$ref"] === "string") {
    const name = one["$ref"].split("/").at(-1) ?? "";
    return resolve((root["$defs"] as Schema | undefined)?.[name], root);
  }
  const others = [one["anyOf"], one["oneOf"], one["allOf"]].flatMap((v) =>
    Array.isArray(v) ? v : [],
  );
  return [one, ...others.flatMap((v) => resolve(v, root))];
}

/** The schemas of what stands at a path. */
export function schemasAt(root: Schema, path: string[]): Schema[] {
  let found = resolve(root, root);
  for (const step of path) {
    found = found.flatMap((schema) => {
      if (step === "[]") return resolve(schema["items"], root);
      const named = (schema["properties"] as Schema | undefined)?.[step];
      return resolve(named ?? schema["additionalProperties"], root);
    });
  }
  return found;
}

const NAMES = [
  ["args", "the call's arguments"],
  ["state", "the mock's state"],
  ["now", "the trial's clock, RFC 3339"],
  ["today", "the trial's date"],
  ["call", "number and of_tool: which call this is"],
  ["given", "what the rule gives, in its changes"],
  ["asked", "what the client answered to the rule's question"],
  ["new_id", "new_id('BK'): an id that no other has"],
] as const;

/** Completes keys and values by the schema; inside expressions, their names. */
export function completer(root: Schema) {
  return (context: CompletionContext): CompletionResult | null => {
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, context.pos - line.from);
    const inside = /(?:\{\{[^}]*|\bif:\s*"?[^"]*)$/.test(before);
    const word = context.matchBefore(/[\w.$-]*/);
    const from = word?.from ?? context.pos;
    if (!context.explicit && !word?.text) return null;
    if (inside) {
      const options = NAMES.map(([label, detail]) => ({ label, detail, type: "variable" }));
      return { from, options, validFor: /^\w*$/ };
    }
    const lines = context.state.doc.toString().split("\n");
    const value = /^\s*(?:- )*([^\s:#][^:#]*):\s+\S*$/.exec(before);
    const path = pathAt(lines, line.number - 1, before.length);
    if (value?.[1]) {
      const at = schemasAt(root, [...path, value[1].trim()]);
      const options = at.flatMap((schema) =>
        schema["type"] === "boolean"
          ? ["true", "false"].map((label) => ({ label, type: "keyword" }))
          : [...((schema["enum"] as unknown[] | undefined) ?? [])].map((v) => ({
              label: String(v),
              type: "enum",
            })),
      );
      return options.length ? { from, options } : null;
    }
    if (!/^\s*(?:- )*[\w$-]*$/.test(before)) return null;
    const keys = schemasAt(root, path).flatMap((schema) =>
      Object.entries((schema["properties"] ?? {}) as Record<string, Schema>),
    );
    const options = keys.map(([label, told]) => ({
      label,
      apply: `${label}: `,
      type: "property",
      info: typeof told["description"] === "string" ? told["description"] : undefined,
    }));
    return options.length ? { from, options, validFor: /^[\w-]*$/ } : null;
  };
}
