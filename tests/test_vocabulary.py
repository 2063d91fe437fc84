"""docs/vocabulary.md is kept: folders and classes have its words, and what it names is there."""

from __future__ import annotations

import ast
import builtins
import importlib
import re
import unittest
from collections.abc import Iterator
from functools import cache
from pathlib import Path

TOP = Path(__file__).resolve().parents[1]
FEROX = TOP / "ferox"
PAGE = (TOP / "docs/vocabulary.md").read_text()
PLAIN = """error file not value text line list group entry number argument path pattern expression
sandbox message json schema clock interval difference count change state row base yaml command
transport template rule channel times each budget latency resource prompt item strict variable
code batch job mark masker paste copy mean header document notification sample elicitation replay
default timeout request pending input setting known usage context assembled stream most missing
absent client person protocol subprocess guarded rewording expect obeyed went spoken response
embed alink"""
"""Words that a programmer knows without a page, and those of MCP, HTTP and JSON."""
NAMES_OF_OTHERS = {"web", "cli", "files", "links", "connections", "migrations", "versions"}


def section(title: str) -> list[list[str]]:
    """The rows of a section's table."""
    part = PAGE.split(f"## {title}\n", 1)[1].split("\n## ", 1)[0]
    rows = [line.strip("|").split("|") for line in part.splitlines() if line.startswith("|")]
    return [[cell.strip() for cell in row] for row in rows[2:]]


def words_of(text: str) -> set[str]:
    """The single words of a text, without plurals."""
    found = re.findall(r"[a-z0-9]+", re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", text).lower())
    return {re.sub(r"(?<=ss)es$|(?<=[a-z]{3})(?<!s)s$", "", word) for word in found}


KNOWN = {w for title in ("Words of the product", "Concepts inside") for row in section(title)
         for w in words_of(row[0])}  # fmt: skip


@cache
def every_node() -> list[tuple[Path, ast.AST]]:
    """Every piece of Ferox's code, with its file."""
    return [
        (file, node)
        for file in FEROX.rglob("*.py")
        if not {"static", "migrations", "connections"} & set(file.parts)
        for node in ast.walk(ast.parse(file.read_text()))
    ]


def every_class() -> Iterator[tuple[Path, str]]:
    return ((file, node.name) for file, node in every_node() if isinstance(node, ast.ClassDef))


class Vocabulary(unittest.TestCase):
    def test_every_folder_is_a_concept(self) -> None:
        for package in FEROX.rglob("__init__.py"):
            name = package.parent.name
            if name not in {"ferox", "core", "store", *NAMES_OF_OTHERS}:
                self.assertTrue(words_of(name.replace("_", " ")) & KNOWN, name)

    def test_every_class_has_a_word_of_the_page(self) -> None:
        plain = words_of(PLAIN)
        strange = {
            name
            for file, name in every_class()
            if not name.startswith("_")
            and "web" not in file.parts
            and not words_of(name) & (KNOWN | plain)
        }
        self.assertEqual(strange, set())

    def test_what_the_page_names_is_there(self) -> None:
        for *_, where in section("Concepts inside"):
            for name in re.findall(r"`([\w.]+)`", where):
                head, _, last = name.rpartition(".")
                if last[:1].isupper():
                    module = importlib.import_module(f"ferox.{head}")
                    self.assertTrue(hasattr(module, last), name)
                else:
                    importlib.import_module(f"ferox.{name}")

    def test_files_that_the_docs_name_are_there(self) -> None:
        roots = ("", "ferox", "frontend/src", "tests", "docs")
        names = {file.name for root in roots[1:4] for file in (TOP / root).rglob("*.*")}
        for page in (TOP / "CONTRIBUTING.md", TOP / "README.md", *(TOP / "docs").glob("*.md")):
            # What stands in a user's own workspace is not of Ferox's.
            for name in re.findall(r"`((?!my-desk/)[\w/.-]+\.(?:py|ts|svelte))`", page.read_text()):
                there = name in names or any((TOP / root / name).exists() for root in roots)
                self.assertTrue(there, f"{page.name}: {name}")

    def test_no_name_is_of_a_word_that_is_not_used(self) -> None:
        unused = {"told", "talk", "desk", "situation", "tooth", "anew"}
        for file, node in every_node():
            name = getattr(node, "id", None) or getattr(node, "arg", None)
            if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
                name = node.name
            if isinstance(name, str):
                self.assertFalse(set(name.lower().split("_")) & unused, f"{file}: {name}")

    def test_errors_that_docstrings_promise_exist(self) -> None:
        known = (
            {name for _, name in every_class()} | set(dir(builtins)) | {"MCPError", "SecurityError"}
        )
        for file, node in every_node():
            if not isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
                continue
            promised = (ast.get_docstring(node) or "").partition("Raises:")[2]
            for names in re.findall(r"^    ([A-Z]\w+(?:, [A-Z]\w+)*):", promised, re.M):
                for name in names.split(", "):
                    self.assertTrue(name in known, f"{file}: {node.name}: {name}")
