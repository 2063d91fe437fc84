"""The page on builds: its example from end to end, and the lines that it gives build services."""

from __future__ import annotations

import re
import shlex
import unittest
from collections.abc import Iterator
from typing import Any

import click
import yaml

from ferox.cli.main import main
from tests.test_docs import ROOT, Console

PAGE = ROOT / "docs/ci.md"


class Example(Console):
    def test_each_command_answers_as_it_is_printed(self) -> None:
        """Baseline; a worse prompt, status 1 and the line that says why; mended, status 0."""
        self.check_console(PAGE)

    def test_the_parts_of_a_run_are_gathered(self) -> None:
        text = PAGE.read_text()
        lines = [line for line in text.splitlines() if line.startswith("ferox ")]
        baseline = "--format results --brief -o my-desk/baseline.jsonl"
        self.answer(f"ferox new my-desk && ferox run my-desk && ferox export my-desk 1 {baseline}")
        for line in lines:
            said = self.answer(line.split("   #")[0])
            self.assertEqual((self.folder / ".status").read_text().strip(), "0", said)
        self.assertIn("nothing breaks: holds", said)
        self.assertTrue((self.folder / "junit.xml").is_file())


class Services(unittest.TestCase):
    def lines(self) -> Iterator[str]:
        """What the files of build services have a shell do."""
        for block in re.findall(r"```yaml\n(# \.[^`]+)```", PAGE.read_text()):
            yield from _scripts_in(yaml.safe_load(block))

    def test_their_files_are_yaml_and_name_commands_that_are_there(self) -> None:
        found = [line for line in self.lines() if line.startswith("ferox ")]
        self.assertEqual([line.split()[1] for line in found], ["run", "run", "gather"])
        for line in found:
            _, name, *words = shlex.split(line)
            command = main.get_command(click.Context(main), name)
            assert command is not None
            options = {option for parameter in command.params for option in parameter.opts}
            self.assertLessEqual({word for word in words if word.startswith("--")}, options)


def _scripts_in(value: Any) -> Iterator[str]:
    if isinstance(value, list):
        for one in value:
            yield from _scripts_in(one)
    elif isinstance(value, dict):
        for key, one in value.items():
            if key == "run" and isinstance(one, str):
                yield one
            elif key == "script":
                yield from one
            else:
                yield from _scripts_in(one)
