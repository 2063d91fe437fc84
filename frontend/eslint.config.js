import js from "@eslint/js";
import svelte from "eslint-plugin-svelte";
import globals from "globals";
import ts from "typescript-eslint";

const drawings = [
  "board/Matrix",
  "board/MatrixCell",
  "tasks/Calls",
  "tasks/TaskPicture",
  "trial/Conversation",
  "trial/Reply",
].map((name) => `src/${name}.svelte`);

export default ts.config(
  js.configs.recommended,
  ...ts.configs.strict,
  ...svelte.configs.recommended,
  { languageOptions: { globals: globals.browser } },
  {
    files: ["**/*.svelte", "**/*.svelte.ts"],
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: { "svelte/no-navigation-without-resolve": "off" },
  },
  {
    // Controls come from the kit, so that all places look and act alike. Drawings make their own.
    files: ["src/**/*.svelte"],
    ignores: ["src/kit/**", ...drawings],
    rules: {
      "svelte/no-restricted-html-elements": [
        "error",
        {
          elements: ["button", "input", "select", "textarea", "table", "dialog"],
          message: "Use the component of src/kit.",
        },
      ],
    },
  },
  { ignores: ["src/api/schema.d.ts"] },
);
