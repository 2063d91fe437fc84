"""The documents say what is true: commands exist, messages are said, the tutorial runs."""

from __future__ import annotations

import ast
import os
import re
import shlex
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path

import click
from click.testing import CliRunner, Result

from ferox.cli.main import COMMANDS, main
from ferox.formats.server import ServerFile
from ferox.formats.stand_in import Manner
from ferox.formats.suite import Suite
from ferox.stand_in.manners import MANNERS
from ferox.workspace.check_suite import SuiteContext, check_suite
from ferox.workspace.load import load_servers
from ferox.workspace.yaml_files import parse_yaml, validate_file
from tests.waiting import HANG_S
from tests.workers import work_in_threads

ROOT = Path(__file__).resolve().parents[1]
DOCS = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
OF_PYTHON = {"No module named", "is not a package"}
"""Messages that an agent's interpreter says itself."""
_BLOCK = re.compile(r"(?ms)^(?:<!-- append: (\S+) -->\n)?```(\w*)\n(.*?)^```$")

SUITE = """
ferox: 1
suite: arrivals
servers: {berths: mock}
tasks:
  - task: is-it-free
    say: Is berth S1 free?
    expect:
      calls: [{tool: berths/check_berth, args: {code: S1}}]
      order: []
  - task: too-much
    say: Is berth S1 free, and for how long?
    expect:
      calls: [{tool: berths/check_berth, args: {code: N9}}]
"""
PLAN = """
ferox: 1
plan: words
tasks: [arrivals/is-it-free]
agents: [duty-officer]
vary: {model: [stand-in, other]}
trials: 2
"""


def commands_in(text: str) -> Iterator[str]:
    """The commands of Ferox's that a document names, as they are written."""
    for block in _BLOCK.finditer(text):
        if block[2] in ("sh", "console"):
            for line in block[3].splitlines():
                bare = line.removeprefix("$ ").split("   #")[0].strip()
                if bare.startswith("ferox "):
                    yield bare
    outside = _BLOCK.sub("", text)
    for code in re.findall(r"`(ferox [^`]+)`", outside):
        yield " ".join(code.split())


class Commands(unittest.TestCase):
    def test_every_command_in_the_documents_is_one(self) -> None:
        seen = 0
        for file in DOCS:
            for line in commands_in(file.read_text()):
                with self.subTest(line, file=file.name):
                    seen += 1
                    _, name, *words = shlex.split(line.replace("…", "x"))
                    if name.startswith("--"):
                        continue
                    self.assertIn(name, COMMANDS)
                    command = main.get_command(click.Context(main), name)
                    assert command is not None
                    options = {o for p in command.params for o in p.opts} | {"--help"}
                    for word in words:
                        if word.startswith("-"):
                            self.assertIn(word.partition("=")[0], options)
        self.assertGreater(seen, 40)

    def test_every_command_has_help_worth_reading(self) -> None:
        for name in COMMANDS:
            command = main.get_command(click.Context(main), name)
            assert command is not None
            self.assertGreater(len((command.help or "").split()), 5, name)


def strings_of(tree: ast.AST) -> Iterator[str]:
    """The texts of a module, with `…` where a value is filled in."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.value
        elif isinstance(node, ast.JoinedStr):
            parts = (str(p.value) if isinstance(p, ast.Constant) else "…" for p in node.values)
            yield "".join(parts)


class Messages(unittest.TestCase):
    def test_what_the_page_on_trouble_quotes_is_said_somewhere(self) -> None:
        said = "\n".join(
            text
            for file in (ROOT / "ferox").rglob("*.py")
            for text in strings_of(ast.parse(file.read_text()))
        )
        page = (ROOT / "docs/when-it-goes-wrong.md").read_text()
        quoted = re.findall(r"(?m)^\| `([^`]+)` \|", page)
        self.assertGreaterEqual(len(quoted), 30)
        for message in quoted:
            with self.subTest(message):
                self.assertTrue(message in OF_PYTHON or message in said)

    def test_the_page_on_stand_ins_knows_every_manner(self) -> None:
        page = (ROOT / "docs/stand-ins.md").read_text()
        self.assertEqual(re.findall(r"(?m)^\| `(\w+)` \|", page), list(MANNERS))
        self.assertTrue(Manner.model_fields)


class Links(unittest.TestCase):
    def test_every_link_leads_somewhere(self) -> None:
        for file in DOCS:
            for target in re.findall(r"\]\(([^)\s]+)\)", file.read_text()):
                if target.startswith(("http", "#")):
                    continue
                path, _, anchor = target.partition("#")
                there = file.parent / path
                with self.subTest(target, file=file.name):
                    self.assertTrue(there.exists())
                    if anchor:
                        self.assertIn(anchor, list(anchors_of(there.read_text())))

    def test_the_readme_keeps_to_a_page(self) -> None:
        self.assertLessEqual(len((ROOT / "README.md").read_text().splitlines()), 80)


def anchors_of(text: str) -> Iterator[str]:
    for heading in re.findall(r"(?m)^#+ (.+)$", text):
        yield re.sub(r"[^\w\- ]", "", heading.lower()).replace(" ", "-")


class Console(unittest.TestCase):
    """Runs the commands of a page in a folder of their own, and holds what they answer against
    what is printed there."""

    def setUp(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="ferox-tutorial-"))
        self.addCleanup(shutil.rmtree, self.folder)

    def answer(self, command: str) -> str:
        bin_ = Path(sys.executable).parent
        done = subprocess.run(
            ["bash", "-c", f"{command}\nstatus=$?; echo $status > .status"],
            cwd=self.folder,
            env={
                "PATH": f"{bin_}:{os.environ['PATH']}",
                "HOME": str(self.folder),
                "LANG": "C.UTF-8",
            },
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            timeout=HANG_S,
        )
        return done.stdout

    def check_console(self, page: Path) -> None:
        """Run every command of a page's `console` blocks, in their order."""
        status = "0"
        for block in _BLOCK.finditer(page.read_text()):
            if block[1]:
                with (self.folder / block[1]).open("a") as file:
                    file.write(block[3])
            elif block[2] == "console":
                for step in re.split(r"(?m)^\$ ", block[3])[1:]:
                    command, _, printed = step.partition("\n")
                    # Each command has a shell of its own: the status before is told to it.
                    found = self.answer(f"(exit {status})\n{command}")
                    status = (self.folder / ".status").read_text().strip()
                    with self.subTest(command):
                        self.check_answer(found, printed)

    def check_answer(self, found: str, printed: str) -> None:
        """See that what is printed in the tutorial was answered; `…` is anything."""
        lines = [re.sub(r"\s+", " ", line).strip() for line in found.splitlines()]
        text = "\n".join(line for line in lines if line)
        wanted = [re.sub(r"\s+", " ", line).strip() for line in printed.splitlines()]
        pattern = "\n".join(
            ".*".join(map(re.escape, line.split("…"))) for line in wanted if line not in ("", "…")
        ).replace("\n", r"(?:\n|\n.*\n)")
        loose = "…" in (line.strip() for line in printed.splitlines())
        matched = (re.search if loose else re.fullmatch)(pattern, text, re.S)
        self.assertIsNotNone(matched, f"printed:\n{printed}\nanswered:\n{found}")


class Tutorial(Console):
    def test_each_command_answers_as_it_is_printed(self) -> None:
        self.check_console(ROOT / "docs/tutorial.md")


class Guide(unittest.TestCase):
    """Every command of the guide, in its order, on a workspace that has what it names."""

    def setUp(self) -> None:
        work_in_threads(self)
        self.folder = Path(tempfile.mkdtemp(prefix="ferox-guide-"))
        self.addCleanup(shutil.rmtree, self.folder)
        before = Path.cwd()
        self.addCleanup(os.chdir, before)
        os.chdir(self.folder)
        self.desk = self.folder / "my-desk"

    def ferox(self, *words: str) -> Result:
        return CliRunner().invoke(main, words, input="")

    def furnish(self) -> None:
        """What the guide's commands name: a suite, two agents, a plan, four runs, a trace."""
        (self.desk / "tasks/arrivals.yaml").write_text(SUITE)
        agent = (self.desk / "agents/desk.yaml").read_text()
        other = agent.replace("agent: desk", "agent: duty-officer")
        (self.desk / "agents/duty-officer.yaml").write_text(other)
        (self.desk / "plans").mkdir()
        (self.desk / "plans/words.yaml").write_text(PLAN)
        settings = self.desk / "ferox.yaml"
        model = "models:\n  other: {stand_in: stand_ins/desk.yaml, manner: forgetful}"
        settings.write_text(settings.read_text().replace("models:", model))
        for repeats in ("2", "2", "3", "1"):
            self.ferox("run", "my-desk", "--suite", "arrivals", "--trials", repeats)
        (self.folder / "tasks").symlink_to(self.desk / "tasks")
        self.ferox(
            "export", "my-desk", "1", "--trial", "1", "--format", "traces", "-o", "trace.json"
        )

    def test_each_command_of_the_guide_works(self) -> None:
        done: list[str] = []
        for line in commands_in((ROOT / "docs/guide.md").read_text()):
            _, name, *words = shlex.split(line)
            if not words or name == "serve" or "NAME=MODE" in line:
                continue  # named without what it works on; or goes on until it is stopped
            with self.subTest(line):
                result = self.ferox(name, *words)
                allowed = {2} if name == "resume" else {0, 1}  # nothing is missing in that run
                self.assertIn(result.exit_code, allowed, result.output)
                self.assertIsNone(result.exception if result.exit_code == 0 else None)
                done.append(name)
            if name == "new":
                self.furnish()
        self.assertGreater(len(done), 12)


class ScriptExamples(unittest.TestCase):
    """The page of examples: each is a task, or a server, that the demo's workspace takes."""

    PAGE = ROOT / "docs/say-it-in-a-script.md"

    def test_every_task_fits_the_demos_servers(self) -> None:
        servers = load_servers(ROOT / "demo")
        blocks = [b[3] for b in _BLOCK.finditer(self.PAGE.read_text()) if b[2] == "yaml"]
        tasks = [block for block in blocks if block.startswith("- task:")]
        self.assertGreater(len(tasks), 10)
        head = (
            "ferox: 1\nsuite: page\nservers: {harbour: mock, tides: mock, notices: mock}\ntasks:\n"
        )
        for task in tasks:
            file = parse_yaml(head + task, "tasks/page.yaml")
            suite = validate_file(file, Suite)
            with self.subTest(task):
                assert suite is not None, file.problems
                around = SuiteContext(servers, ROOT / "demo")
                problems = [p for p in check_suite(file, suite, around) if not p.note]
                self.assertEqual(problems, [])

    def test_every_server_is_one(self) -> None:
        blocks = [b[3] for b in _BLOCK.finditer(self.PAGE.read_text()) if b[2] == "yaml"]
        for server in (block for block in blocks if block.startswith("server:")):
            file = parse_yaml(f"ferox: 1\n{server}", "servers/page.yaml")
            self.assertIsNotNone(validate_file(file, ServerFile), file.problems)
