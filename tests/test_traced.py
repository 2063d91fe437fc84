"""Spans that frameworks' own instrumentation gave, brought in beside what the seams saw."""

from __future__ import annotations

import json
import shutil
import tempfile
import unittest
from pathlib import Path
from typing import Any, ClassVar

import yaml
from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.story import read_story
from ferox.formats.result import Result
from ferox.formats.trace import Trace
from ferox.store.database import open_database, read_session
from ferox.store.results import read_results
from ferox.store.traces import read_traces
from ferox.store.trials import finished_numbers, read_trials
from tests.collector import Collector

ROOT = Path(__file__).resolve().parents[1]
OF = {
    "pydantic_ai": "desk-pydantic-ai-steady",
    "openai_agents": "desk-openai-agents-steady",
    "langgraph": "duty-officer-steady",
}
"""Each framework of the demo whose agents can say what they do, and its agent."""
TASKS = (
    "berth-on-afternoon-tide",
    "move-on-a-bad-day",
    "tides-time-out",
    "small-talk",
    "wording-by-the-master",
)
SETTINGS = {
    "OTEL_SEMCONV_STABILITY_OPT_IN": "gen_ai_latest_experimental",
    "OTEL_INSTRUMENTATION_GENAI_CAPTURE_MESSAGE_CONTENT": "SPAN_ONLY",
}
Trials = dict[tuple[str, str], tuple[Trace, Result]]
"""By agent and task."""


def ferox(*words: object) -> None:
    done = CliRunner().invoke(main, [str(word) for word in words], catch_exceptions=False)
    if done.exit_code not in (0, 1):
        raise AssertionError(done.output)


class Traced(unittest.TestCase):
    """Three frameworks run with their instrumentation switched on; then their spans alone."""

    seen: ClassVar[Trials]
    told: ClassVar[Trials]

    @classmethod
    def setUpClass(cls) -> None:
        cls.root = Path(tempfile.mkdtemp(prefix="ferox-test-"))
        cls.addClassCleanup(shutil.rmtree, cls.root, ignore_errors=True)
        ignored = shutil.ignore_patterns(".*", "node_modules")
        shutil.copytree(ROOT / "demo", cls.root, ignore=ignored, dirs_exist_ok=True)
        for file in (ROOT / "tests/traced").glob("*.py"):
            shutil.copy(file, cls.root / "agents" / file.name)
        tasks = [word for task in TASKS for word in ("--task", task)]
        for framework, agent in OF.items():
            with Collector() as collector:
                cls.write_agent(framework, agent, collector.url)
                ferox("run", cls.root, "--agent", framework, "--trials", 1, *tasks)
                (cls.root / f"{framework}.jsonl").write_text("\n".join(collector.lines()))
        cls.seen = cls.trials()
        for framework in OF:
            spans = cls.root / f"{framework}.jsonl"
            ferox("bring", cls.root, spans, "--as", f"told-{framework}", "--clock", "suite")
        cls.told = {key: one for key, one in cls.trials().items() if key not in cls.seen}

    @classmethod
    def write_agent(cls, framework: str, agent: str, collector: str) -> None:
        """The demo's agent, with its spans sent to a collector."""
        file: dict[str, Any] = yaml.safe_load((cls.root / f"agents/{agent}.yaml").read_text())
        file |= {
            "agent": framework,
            "entry": f"agents/traced_{framework}.py:open_desk",
            "python": str(ROOT / "demo" / file["python"]),
            "env": {**SETTINGS, "OTLP_TO": collector},
        }
        (cls.root / f"agents/{framework}.yaml").write_text(yaml.safe_dump(file))

    @classmethod
    def trials(cls) -> Trials:
        engine = open_database(cls.root)
        found: Trials = {}
        with read_session(engine) as session:
            for run in range(1, 2 * len(OF) + 1):
                numbers = finished_numbers(session, run)
                traces, results = read_traces(session, numbers), read_results(session, numbers)
                for number, line in read_trials(session, numbers).items():
                    found[line.agent, line.task] = traces[number], results[number]
        engine.dispose()
        return found

    def test_every_trial_is_told_once(self) -> None:
        self.assertEqual(len(self.seen), len(OF) * len(TASKS))
        self.assertEqual({(f"told-{agent}", task) for agent, task in self.seen}, set(self.told))

    def test_the_calls_their_arguments_and_their_order_are_what_the_seams_saw(self) -> None:
        for (agent, task), (trace, _) in self.seen.items():
            with self.subTest(agent, task=task):
                story = read_story(trace)
                # What is edited on approval is edited past the framework, which does not see it.
                edited = {ask["tool"]: ask["args"] for ask in story.asks if ask.get("edited")}
                seen = [(call.tool, edited.get(call.tool, call.args)) for call in story.calls]
                told = read_story(self.told[f"told-{agent}", task][0]).calls
                self.assertEqual([(call.tool, call.args) for call in told], seen)

    def test_the_words_and_replies_are_what_was_said(self) -> None:
        for (agent, task), (trace, _) in self.seen.items():
            with self.subTest(agent, task=task):
                seen, told = (
                    [(turn.text, turn.reply, turn.rule) for turn in read_story(one).turns]
                    for one in (trace, self.told[f"told-{agent}", task][0])
                )
                self.assertEqual(told, seen)

    def test_each_check_comes_out_the_same_or_is_not_tested(self) -> None:
        tested = 0
        for (agent, task), (_, result) in self.seen.items():
            told = {c["id"]: c["passed"] for c in self.told[f"told-{agent}", task][1]["checks"]}
            for check in result["checks"]:
                passed = told.get(check["id"])
                with self.subTest(agent, task=task, check=check["id"]):
                    self.assertIn(passed, (check["passed"], None))
                tested += passed is not None
        self.assertGreater(tested, 100)

    def test_the_verdict_is_the_same_unless_what_failed_is_unseen_evidence(self) -> None:
        for (agent, task), (_, result) in self.seen.items():
            told = self.told[f"told-{agent}", task][1]
            if told["verdict"] == result["verdict"]:
                continue
            with self.subTest(agent, task=task):
                self.assertEqual((result["verdict"], told["verdict"]), ("fail", "pass"))
                open_ = {c["id"] for c in told["checks"] if c["passed"] is None}
                told_ids = {c["id"] for c in told["checks"]}
                failed = {c["id"] for c in result["checks"] if c["passed"] is False}
                self.assertTrue(failed <= open_ | (failed - told_ids), failed)

    def test_the_page_says_what_each_of_them_does_not_tell(self) -> None:
        page = (ROOT / "docs/bringing-in.md").read_text()
        for agent in OF:
            untold: set[str] = set()
            for task in TASKS:
                story = read_story(self.told[f"told-{agent}", task][0])
                untold |= story.unseen
            (row,) = [line for line in page.splitlines() if line.startswith(f"| `{agent}` |")]
            listed = set(json.loads(f"[{row.split('|')[3].replace('`', chr(34))}]"))
            self.assertEqual(listed, untold, row)
