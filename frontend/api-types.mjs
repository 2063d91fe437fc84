// Writes the types of the interface from its OpenAPI document: node api-types.mjs DOCUMENT TYPES
import { readFile, writeFile } from "node:fs/promises";
import openapiTS, { astToString } from "openapi-typescript";
import ts from "typescript";

const [from, to] = process.argv.slice(2);
const SAYS_NOTHING = new Set(["title", "description", "default"]);
const json = ts.factory.createTypeReferenceNode("Json");

const types = await openapiTS(JSON.parse(await readFile(from, "utf8")), {
  inject: 'import type { Json } from "../values/json";',
  // A schema that demands nothing is any JSON value, which is more than `unknown`.
  transform: (schema) =>
    Object.keys(schema).every((key) => SAYS_NOTHING.has(key)) ? json : undefined,
});
await writeFile(to, astToString(types));
