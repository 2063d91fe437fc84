/** Completion for the workspace's YAML files: keys and values from the format's JSON Schema. */
import type { Completion, CompletionContext, CompletionResult } from "@codemirror/autocomplete";
import { placeAt, type Place } from "./place";

export type Schema = Record<string, unknown>;

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

/** What a key at a path means, in the format's own words. */
export function meaning(root: Schema, path: string[], key: string): string | null {
  for (const schema of schemasAt(root, path)) {
    const definition = (schema["properties"] as Record<string, Schema> | undefined)?.[key];
    if (typeof definition?.["description"] === "string") return definition["description"];
  }
  return null;
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

/** What a format knows besides its schema: names of tools, arguments, calls. */
export type Knows = (place: Place, text: string) => Completion[];

function keysOf(root: Schema, path: string[]): Completion[] {
  return schemasAt(root, path)
    .flatMap((schema) => Object.entries((schema["properties"] ?? {}) as Record<string, Schema>))
    .map(([label, definition]) => ({
      label,
      apply: `${label}: `,
      type: "property",
      ...(typeof definition["description"] === "string" ? { info: definition["description"] } : {}),
    }));
}

function valuesOf(root: Schema, path: string[]): Completion[] {
  return schemasAt(root, path).flatMap((schema) =>
    schema["type"] === "boolean"
      ? ["true", "false"].map((label) => ({ label, type: "keyword" }))
      : [...((schema["enum"] as unknown[] | undefined) ?? [])].map((v) => ({
          label: String(v),
          type: "enum",
        })),
  );
}

/** Completes keys and values by the schema and by what is known; in expressions, their names. */
export function completer(root: Schema, knows: Knows = () => []) {
  return (context: CompletionContext): CompletionResult | null => {
    const line = context.state.doc.lineAt(context.pos);
    const before = line.text.slice(0, context.pos - line.from);
    const inside = /(?:\{\{[^}]*|\bif:\s*"?[^"]*)$/.test(before);
    const word = context.matchBefore(/[\w.$/*-]*/);
    const from = word?.from ?? context.pos;
    if (!context.explicit && !word?.text) return null;
    if (inside) {
      const options = NAMES.map(([label, detail]) => ({ label, detail, type: "variable" }));
      return { from, options, validFor: /^\w*$/ };
    }
    const text = context.state.doc.toString();
    const place = placeAt(text.split("\n"), line.number - 1, before.length);
    const own = knows(place, text);
    const more =
      place.key === null ? keysOf(root, place.path) : valuesOf(root, [...place.path, place.key]);
    const options = [...own, ...more];
    return options.length ? { from, options, validFor: /^[\w.$/-]*$/ } : null;
  };
}
