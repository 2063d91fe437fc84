/** The editor of the workspace's files. It is loaded when it is first needed. */
import { autocompletion, completionKeymap } from "@codemirror/autocomplete";
import { yaml } from "@codemirror/lang-yaml";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { linter, lintGutter, nextDiagnostic, type Diagnostic } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, hoverTooltip, keymap } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { basicSetup } from "codemirror";
import { api, ask } from "../api/client";
import { completer, meaning, type Knows } from "./completion";
import { placeAt } from "./place";

export interface Editor {
  text: () => string;
  /** The line of the cursor, from 1. */
  line: () => number;
  put: (text: string) => void;
  /** Puts the cursor on a line and shows it. */
  goto: (line: number) => void;
  /** To the next problem. */
  next: () => void;
  close: () => void;
}

interface Options {
  file: string;
  onchange: (text: string) => void;
  onmove: () => void;
  onproblems: (errors: number, notes: number) => void;
  onsave: () => void;
}

const look = EditorView.theme({
  "&": { height: "100%", fontSize: "12.5px", color: "var(--ink)" },
  "&.cm-focused": { outline: "2px solid var(--holds)", outlineOffset: "-2px" },
  ".cm-scroller": { fontFamily: "var(--font-mono)", lineHeight: "1.5" },
  ".cm-gutters": {
    background: "var(--sheet)",
    color: "var(--soft)",
    borderRight: "1px solid var(--line)",
  },
  ".cm-activeLine, .cm-activeLineGutter": { background: "var(--faint)" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-selectionBackground, &.cm-focused .cm-selectionBackground": {
    background: "var(--thinking) !important",
  },
  ".cm-tooltip": {
    background: "var(--raised)",
    color: "var(--ink)",
    border: "1px solid var(--line)",
  },
  ".cm-tooltip-autocomplete ul li[aria-selected]": {
    background: "var(--holds-wash)",
    color: "var(--ink)",
  },
  ".cm-lint-marker": {
    content: '""',
    width: "8px",
    height: "8px",
    margin: "5px 2px",
    background: "var(--broke)",
  },
  ".cm-lint-marker-info": {
    background: "transparent",
    border: "1.5px solid var(--doubt)",
    borderRadius: "50%",
  },
  ".cm-lintRange-info": {
    backgroundImage: "none",
    borderBottom: "1.5px dotted var(--doubt)",
  },
  ".cm-lintRange-error": {
    backgroundImage: "none",
    borderBottom: "2px solid var(--broke)",
  },
  ".cm-diagnostic": { borderLeft: "3px solid var(--broke)", padding: "4px 8px" },
  ".cm-diagnostic-info": { borderLeftColor: "var(--doubt)" },
  ".help": { padding: "4px 8px", maxWidth: "380px", whiteSpace: "pre-wrap" },
  ".cm-panels, .cm-panel": { background: "var(--sheet)", color: "var(--ink)" },
});
const colours = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: "var(--holds)" },
  { tag: tags.string, color: "var(--ink)" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--iron)" },
  { tag: tags.comment, color: "var(--soft)", fontStyle: "italic" },
  { tag: tags.punctuation, color: "var(--soft)" },
]);

/** The format of each folder's files, and of the workspace's own. */
const FORMATS: Record<string, string> = {
  servers: "server",
  tasks: "suite",
  agents: "agent",
  plans: "plan",
  stand_ins: "stand-in",
  "ferox.yaml": "workspace",
};

/** What a format's editor knows besides its schema, and says of a word under the pointer. */
export interface Knowledge {
  knows: Knows;
  tells: (word: string) => string | null;
}

const knowledge: Record<string, () => Promise<Knowledge>> = {
  suite: async () => (await import("../tasks/knowledge")).taskKnowledge(),
  plan: async () => (await import("../compare/knowledge")).planKnowledge(),
};

export async function makeEditor(
  parent: HTMLElement,
  text: string,
  { file, onchange, onmove, onproblems, onsave }: Options,
): Promise<Editor> {
  const folder = file.split("/")[0] ?? "";
  const format = FORMATS[folder] ?? "server";
  const { definition } = await ask(
    api.GET("/api/formats/{format}", { params: { path: { format } } }),
  );

  const own = await knowledge[format]?.();

  const help = hoverTooltip((view, pos) => {
    const line = view.state.doc.lineAt(pos);
    const found = [...line.text.matchAll(/[\w./$-]+/g)].find(
      (m) => m.index <= pos - line.from && pos - line.from <= m.index + m[0].length,
    );
    if (!found) return null;
    const word = found[0];
    const from = line.from + found.index;
    const lines = view.state.doc.toString().split("\n");
    const isKey = line.text.slice(found.index + word.length).startsWith(":");
    const { path } = placeAt(lines, line.number - 1, found.index);
    const info = (isKey ? meaning(definition, path, word) : null) ?? own?.tells(word);
    if (!info) return null;
    return {
      pos: from,
      end: from + word.length,
      create: () => {
        const dom = document.createElement("div");
        dom.className = "help";
        dom.textContent = info;
        return { dom };
      },
    };
  });

  const check = linter(
    async (view): Promise<Diagnostic[]> => {
      const body = { name: file, text: view.state.doc.toString() };
      const { problems } = await ask(api.POST("/api/file/check", { body }));
      const notes = problems.filter((p) => p.note).length;
      onproblems(problems.length - notes, notes);
      return problems.map((problem) => {
        const line = view.state.doc.line(Math.min(problem.line, view.state.doc.lines));
        const from = Math.min(line.from + problem.column - 1, line.to);
        return {
          from,
          to: line.to,
          severity: problem.note ? "info" : "error",
          message: problem.message,
        };
      });
    },
    { delay: 350 },
  );

  const view = new EditorView({
    parent,
    state: EditorState.create({
      doc: text,
      extensions: [
        basicSetup,
        EditorView.lineWrapping,
        yaml(),
        look,
        syntaxHighlighting(colours),
        autocompletion({ override: [completer(definition, own?.knows)] }),
        lintGutter(),
        check,
        help,
        keymap.of([
          ...completionKeymap,
          { key: "Mod-s", preventDefault: true, run: () => (onsave(), true) },
        ]),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) onchange(update.state.doc.toString());
          else if (update.selectionSet) onmove();
        }),
        EditorView.contentAttributes.of({ "aria-label": `Text of ${file}` }),
      ],
    }),
  });
  view.scrollDOM.tabIndex = 0; // what scrolls is reached by the keyboard too

  return {
    text: () => view.state.doc.toString(),
    line: () => view.state.doc.lineAt(view.state.selection.main.head).number,
    put: (words) =>
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: words } }),
    goto: (number) => {
      const line = view.state.doc.line(Math.max(1, Math.min(number, view.state.doc.lines)));
      view.dispatch({
        selection: { anchor: line.from },
        effects: EditorView.scrollIntoView(line.from, { y: "start", yMargin: 40 }),
      });
    },
    next: () => {
      nextDiagnostic(view);
      view.focus();
    },
    close: () => view.destroy(),
  };
}
