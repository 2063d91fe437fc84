"""Where the cursor is in a YAML text, as the editor's completion and help see it."""

from __future__ import annotations

import json
import subprocess
import unittest
from pathlib import Path
from typing import Any

FRONTEND = Path(__file__).resolve().parents[1] / "frontend"
# The front end's own TypeScript, made JavaScript in memory.
SCRIPT = """
import { createRequire } from "node:module";
import { readFileSync } from "node:fs";
const ts = createRequire(process.cwd() + "/")("typescript");
const source = readFileSync("src/editor/place.ts", "utf8");
const options = { module: "ESNext", target: "ES2022" };
const made = ts.transpileModule(source, { compilerOptions: options }).outputText;
const { placeAt } = await import("data:text/javascript," + encodeURIComponent(made));
const asked = JSON.parse(readFileSync(0, "utf8"));
console.log(JSON.stringify(asked.map(([lines, line, column]) => placeAt(lines, line, column))));
"""
CALL = ["tasks", "[]", "expect", "calls", "[]"]


def places(*texts: str) -> list[Any]:
    """The place of the `|` in each text."""
    asked = []
    for text in texts:
        before = text[: text.index("|")]
        lines = text.replace("|", "").split("\n")
        asked.append([lines, before.count("\n"), len(before) - before.rfind("\n") - 1])
    done = subprocess.run(
        ["node", "--input-type=module", "-e", SCRIPT],
        input=json.dumps(asked), capture_output=True, text=True, cwd=FRONTEND, check=True,
    )  # fmt: skip
    body: list[Any] = json.loads(done.stdout)
    return body


HEAD = "ferox: 1\ntasks:\n  - task: a\n    expect:\n      calls:\n"


class Places(unittest.TestCase):
    def test_in_blocks_and_in_braces(self) -> None:
        flow, block, after, matcher, chain, glob = places(
            HEAD + "        - {as: x, tool: tides/hi, args: {da|",
            HEAD + "        - as: x\n          tool: tides/hi\n          args:\n            da|",
            HEAD + "        - {as: x, tool: a/b}\n        - as: y\n          tool: c/|",
            HEAD + "        - as: x\n          args:\n            day: {ma|",
            HEAD + "        - {tool: a/b}\n      order: [[a, b|",
            HEAD + "        - {tool: a/b}\n      never: [ti|",
        )
        self.assertEqual((flow["path"], flow["key"]), ([*CALL, "args"], None))
        self.assertEqual(flow["beside"]["tool"], "tides/hi")
        self.assertEqual((block["path"], block["beside"]["tool"]), ([*CALL, "args"], "tides/hi"))
        self.assertEqual((after["path"], after["key"]), (CALL, "tool"))
        self.assertEqual(matcher["path"], [*CALL, "args", "day"])
        self.assertEqual(chain["path"][-3:], ["order", "[]", "[]"])
        self.assertEqual(glob["path"][-2:], ["never", "[]"])

    def test_braces_over_several_lines_and_words_in_quotes(self) -> None:
        wrapped, quoted, value = places(
            HEAD + "        - {as: x,\n           tool: a/b, args: {|",
            HEAD + '        - {as: "a: {b", tool: |',
            "servers: {tides: mo|",
        )
        self.assertEqual(wrapped["path"], [*CALL, "args"])
        self.assertEqual((quoted["path"], quoted["key"]), (CALL, "tool"))
        self.assertEqual((value["path"], value["key"]), (["servers"], "tides"))
