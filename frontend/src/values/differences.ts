/** Where two JSON values differ, as deep as their shapes agree. */
import type { Json } from "./json";

export interface Difference {
  where: string;
  before: Json | undefined;
  after: Json | undefined;
}

const isRecord = (v: unknown): v is Record<string, Json> =>
  typeof v === "object" && v !== null && !Array.isArray(v);

export function differences(
  before: Json | undefined,
  after: Json | undefined,
  where = "",
): Difference[] {
  if (isRecord(before) && isRecord(after)) {
    const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])];
    return keys.flatMap((key) => differences(before[key], after[key], `${where}/${key}`));
  }
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length) {
    return before.flatMap((item, i) => differences(item, after[i], `${where}/${i}`));
  }
  return JSON.stringify(before) === JSON.stringify(after) ? [] : [{ where, before, after }];
}

/** An answer as it is compared: its structure, else its text parsed as JSON, else its text. */
export function comparable(answer: {
  content?: unknown;
  structured?: unknown;
  error?: unknown;
}): Json {
  if (typeof answer.error === "string") return { error: answer.error };
  if (answer.structured !== null && answer.structured !== undefined)
    return answer.structured as Json;
  const blocks = (answer.content ?? []) as Record<string, Json>[];
  const values = blocks.map((block): Json => {
    if (typeof block["text"] !== "string") return block as Json;
    try {
      return JSON.parse(block["text"]) as Json;
    } catch {
      return block["text"];
    }
  });
  return values.length === 1 ? (values[0] ?? null) : values;
}
