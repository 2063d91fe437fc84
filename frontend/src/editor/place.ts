/** Where in a YAML text the cursor is: the keys above it, through blocks and braces alike. */

export interface Place {
  /** Keys from the top; an item of a list is `[]`. */
  path: string[];
  /** The key whose value is being written; null where a key is. */
  key: string | null;
  /** The line, from 0. */
  line: number;
  /** Plain values of the keys beside it, as far as they stand before the cursor. */
  beside: Record<string, string>;
}

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
    const found = /^(\s*)((?:- )*)(?:"([^"]*)"|'([^']*)'|([^\s#:'"{[-][^:#{[]*)):(\s|$)/.exec(text);
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

/** Lines that a value in braces may run over. */
const FAR = 12;

interface Open {
  kind: "{" | "[";
  key: string | null;
  beside: Record<string, string>;
}

/** What braces and brackets are open at the end of a text, and the word that stands there. */
function opened(text: string): { open: Open[]; word: string } {
  const open: Open[] = [];
  let word = "";
  let quote = "";
  for (const sign of text) {
    const inner = open.at(-1);
    if (quote) {
      if (sign === quote) quote = "";
      else word += sign;
    } else if (sign === '"' || sign === "'") quote = sign;
    else if (sign === "{" || sign === "[") {
      open.push({ kind: sign, key: null, beside: {} });
      word = "";
    } else if (sign === "}" || sign === "]") {
      open.pop();
      word = "";
    } else if (sign === "," && inner) {
      if (inner.key) inner.beside[inner.key] = word.trim();
      inner.key = null;
      word = "";
    } else if (sign === ":" && inner?.kind === "{" && inner.key === null) {
      inner.key = word.trim();
      word = "";
    } else word += sign;
  }
  return { open, word };
}

/** The line on which the braces begin that are still open at a line, or that line itself. */
function blockStart(lines: string[], line: number): number {
  let start = line;
  for (let from = line - 1; from >= Math.max(0, line - FAR); from--) {
    let open = true;
    for (let end = from + 1; open && end <= line; end++)
      open = opened(lines.slice(from, end).join("\n")).open.length > 0;
    if (open) start = from;
  }
  return start;
}

/** The place of the cursor. Lines and columns count from 0. */
export function placeAt(lines: string[], line: number, column: number): Place {
  const from = blockStart(lines, line);
  const text = [...lines.slice(from, line), (lines[line] ?? "").slice(0, column)].join("\n");
  const head = /^(\s*(?:- )*)/.exec(text)?.[1] ?? "";
  const rest = text.slice(head.length);
  const named = /^(?:"([^"]*)"|'([^']*)'|([^\s#:'"{[][^:#{[]*)):(?=\s|$)/.exec(rest);
  const key = named ? (named[1] ?? named[2] ?? named[3] ?? "").trim() : null;
  const after = named ? rest.slice(named[0].length) : rest;
  const block = pathAt(lines, from, head.length);
  const { open } = opened(after);
  if (!open.length) {
    return { path: block, key, line, beside: besideBlock(lines, line, block) };
  }
  const path = key === null ? [...block] : [...block, key];
  open.forEach((one, i) => {
    if (one.kind === "[") path.push("[]");
    if (i < open.length - 1 && one.kind === "{" && one.key) path.push(one.key);
  });
  const last = open[open.length - 1] as Open;
  // The values beside `args` are those of the call around it.
  const around = open.length > 1 ? (open.at(-2)?.beside ?? {}) : {};
  const outer = open.length > 1 ? {} : besideBlock(lines, from, block);
  return {
    path,
    key: last.kind === "{" ? last.key : null,
    line,
    beside: { ...outer, ...around, ...last.beside },
  };
}

/** Plain values of the keys at the same indentation, up and down to the item's ends. */
function besideBlock(lines: string[], line: number, path: string[]): Record<string, string> {
  const beside: Record<string, string> = {};
  const level = (text: string) => /^(\s*(?:- )*)/.exec(text)?.[1]?.length ?? 0;
  const own = level(lines[line] ?? "");
  const read = (text: string) => {
    const found = /^\s*(?:- )*([\w-]+):\s+([^\s{[#][^#]*?)\s*$/.exec(text);
    if (found?.[1] && !(found[1] in beside)) beside[found[1]] = found[2] ?? "";
  };
  let at = own;
  for (let i = line; i >= 0; i--) {
    const text = lines[i] ?? "";
    if (!text.trim()) continue;
    const here = level(text);
    if (here > at) continue;
    // Of `args:` one looks one level further out, at its call.
    if (here < at) {
      if (path.at(-1) !== "args" || at !== own) break;
      at = here;
    }
    read(text);
    if (/^\s*- /.test(text) && here <= at) {
      if (path.at(-1) === "args" && at === own) continue;
      break;
    }
  }
  for (let i = line + 1; i < lines.length; i++) {
    const text = lines[i] ?? "";
    if (!text.trim()) continue;
    if (level(text) < at || /^\s*- /.test(text)) break;
    if (level(text) === at) read(text);
  }
  return beside;
}
