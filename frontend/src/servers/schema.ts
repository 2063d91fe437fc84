/** What a form needs to know of a JSON Schema. */
import type { Json } from "../values/json";

export type Schema = Record<string, Json>;
export type Kind =
  "choice" | "yesno" | "number" | "words" | "list" | "fields" | "variants" | "json";

const isSchema = (v: unknown): v is Schema =>
  typeof v === "object" && v !== null && !Array.isArray(v);

/** A schema, or what its local reference points to. */
export function resolved(schema: Json | undefined, root: Schema): Schema {
  let found: Json | undefined = schema;
  for (let i = 0; i < 12 && isSchema(found) && typeof found["$ref"] === "string"; i++) {
    const steps = found["$ref"].replace(/^#\/?/, "").split("/").filter(Boolean);
    found = steps.reduce<Json | undefined>((at, step) => {
      const key = step.replaceAll("~1", "/").replaceAll("~0", "~");
      return isSchema(at) ? at[key] : undefined;
    }, root);
  }
  return isSchema(found) ? found : {};
}

/** The types that a schema allows, null aside. */
export function types(schema: Schema): string[] {
  const declared = schema["type"];
  const all = Array.isArray(declared) ? declared : declared === undefined ? [] : [declared];
  return all.map(String).filter((t) => t !== "null");
}

/** The alternatives of a schema, without the one that is only null. */
export function variants(schema: Schema, root: Schema): Schema[] {
  const declared = schema["oneOf"] ?? schema["anyOf"];
  if (!Array.isArray(declared)) return [];
  return declared.map((v) => resolved(v, root)).filter((v) => v["type"] !== "null");
}

export function kindOf(schema: Schema, root: Schema): Kind {
  if (Array.isArray(schema["enum"]) || schema["const"] !== undefined) return "choice";
  const others = variants(schema, root);
  if (others.length > 1) return "variants";
  if (others.length === 1 && others[0]) return kindOf(others[0], root);
  const [only, more] = types(schema);
  if (more) return "json";
  if (only === "boolean") return "yesno";
  if (only === "number" || only === "integer") return "number";
  if (only === "string") return "words";
  if (only === "array" && schema["items"] !== undefined) return "list";
  if ((only === "object" || only === undefined) && isSchema(schema["properties"])) return "fields";
  return "json";
}

/** The schema that a field is made from: the only alternative, if there is just one. */
export function plain(schema: Schema, root: Schema): Schema {
  const others = variants(schema, root);
  return others.length === 1 && others[0] ? { ...schema, ...others[0] } : schema;
}

/** What a field starts with: the schema's defaults, as deep as they go. */
export function initial(schema: Schema, root: Schema): Json | undefined {
  if (schema["default"] !== undefined) return schema["default"];
  if (kindOf(schema, root) !== "fields") return undefined;
  const found = Object.entries(schema["properties"] as Record<string, Json>).flatMap(
    ([name, declared]) => {
      const value = initial(resolved(declared, root), root);
      return value === undefined ? [] : [[name, value] as [string, Json]];
    },
  );
  return found.length ? Object.fromEntries(found) : undefined;
}

/** What a new item of a list starts with. */
export function blank(schema: Schema, root: Schema): Json {
  const start = initial(schema, root);
  if (start !== undefined) return start;
  switch (kindOf(schema, root)) {
    case "number":
      return 0;
    case "yesno":
      return false;
    case "list":
      return [];
    case "fields":
      return {};
    case "choice":
      return (schema["enum"] as Json[] | undefined)?.[0] ?? schema["const"] ?? "";
    default:
      return "";
  }
}

/** A few words about what a field takes. */
export function hint(schema: Schema, required: boolean): string {
  const limits = [
    schema["minimum"] !== undefined ? `≥ ${String(schema["minimum"])}` : null,
    schema["maximum"] !== undefined ? `≤ ${String(schema["maximum"])}` : null,
  ];
  return [
    schema["format"] ?? types(schema).join(" or "),
    schema["pattern"],
    ...limits,
    required ? "required" : null,
  ]
    .filter(Boolean)
    .join(", ");
}

export function titleOf(schema: Schema, place: number): string {
  const declared = schema["title"] ?? schema["description"];
  if (typeof declared === "string") return declared.slice(0, 60);
  if (schema["const"] !== undefined) return JSON.stringify(schema["const"]);
  const keys = Object.keys((schema["properties"] as object | undefined) ?? {});
  return keys.length ? keys.join(", ") : types(schema).join(" or ") || `form ${place + 1}`;
}
