/** The editor of the workspace's files. It is loaded when it is first needed. */
import { autocompletion, completionKeymap } from "@codemirror/autocomplete";
import { yaml } from "@codemirror/lang-yaml";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { linter, lintGutter, type Diagnostic } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, keymap } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { basicSetup } from "codemirror";
import { api, ask } from "../api/client";
import { completer } from "./completion";

export interface Editor {
  text: () => string;
  put: (text: string) => void;
  close: () => void;
}

interface Options {
  file: string;
  onchange: () => void;
  onproblems: (count: number) => void;
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
  ".cm-panels, .cm-panel": { background: "var(--sheet)", color: "var(--ink)" },
});
const colours = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: "var(--holds)" },
  { tag: tags.string, color: "var(--ink)" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--iron)" },
  { tag: tags.comment, color: "var(--soft)", fontStyle: "italic" },
  { tag: tags.punctuation, color: "var(--soft)" },
]);

export async function makeEditor(
  parent: HTMLElement,
  text: string,
  { file, onchange, onproblems, onsave }: Options,
): Promise<Editor> {
  const format = { tasks: "suite", agents: "agent" }[file.split("/")[0] ?? ""] ?? "server";
  const { definition } = await ask(
    api.GET("/api/formats/{format}", { params: { path: { format } } }),
  );

  const check = linter(
    async (view): Promise<Diagnostic[]> => {
      const body = { name: file, text: view.state.doc.toString() };
      const { problems } = await ask(api.POST("/api/file/check", { body }));
      onproblems(problems.length);
      return problems.map((problem) => {
        const line = view.state.doc.line(Math.min(problem.line, view.state.doc.lines));
        const from = Math.min(line.from + problem.column - 1, line.to);
        return { from, to: line.to, severity: "error", message: problem.message };
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
        yaml(),
        look,
        syntaxHighlighting(colours),
        autocompletion({ override: [completer(definition)] }),
        lintGutter(),
        check,
        keymap.of([
          ...completionKeymap,
          { key: "Mod-s", preventDefault: true, run: () => (onsave(), true) },
        ]),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) onchange();
        }),
        EditorView.contentAttributes.of({ "aria-label": `Text of ${file}` }),
      ],
    }),
  });

  return {
    text: () => view.state.doc.toString(),
    put: (words) =>
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: words } }),
    close: () => view.destroy(),
  };
}
