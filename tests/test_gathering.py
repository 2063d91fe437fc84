"""A run in parts, as several machines of a build carry it out, and the parts as one."""

from __future__ import annotations

import json
import shutil
from pathlib import Path
from typing import Any

from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.story import read_story
from ferox.runs.records import RunError, Shard
from ferox.store.database import open_database, read_session
from ferox.store.runs import get_run
from ferox.store.traces import read_traces
from ferox.store.trials import finished_numbers, read_trials
from tests.workers import work_in_threads
from tests.workspaces import PLAIN, WorkspaceCase

LOW = """\
  - task: low
    say: When is high water today?
    expect: {calls: [{tool: tides/high_water}], answer: [{mentions: "03:30"}]}
"""


class Gathering(WorkspaceCase):
    """Two tasks, one of which fails, with two agents and three trials of each: 12 trials."""

    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)
        self.write("agents/other.yaml", PLAIN.replace("plain", "other", 1))
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write(LOW)

    def ferox(self, *words: object) -> tuple[int, str]:
        done = CliRunner().invoke(main, [str(word) for word in words], catch_exceptions=False)
        return done.exit_code, done.output

    def part(self, shard: str, *more: object) -> Path:
        """A part of the run, carried out in a workspace of its own."""
        here = self.root.with_name(f"{self.root.name}-{shard.replace('/', '-')}")
        self.addCleanup(shutil.rmtree, here, ignore_errors=True)
        ignored = shutil.ignore_patterns(".ferox")
        shutil.copytree(self.root, here, dirs_exist_ok=True, ignore=ignored)
        out = self.root.with_name(f"{here.name}.jsonl")
        self.addCleanup(out.unlink, missing_ok=True)
        words = ("run", here, "--trials", 3, "--shard", shard, "--save", out, *more)
        status, said = self.ferox(*words)
        self.assertEqual(status, 0, said)
        return out

    def trials(self, run: int) -> dict[Any, Any]:
        engine = open_database(self.root)
        with read_session(engine) as session:
            numbers = finished_numbers(session, run)
            lines, traces = read_trials(session, numbers), read_traces(session, numbers)
            found = {
                (line.task, line.agent, line.number): (
                    line.verdict,
                    line.started_at is not None,
                    [(c.tool, c.args, c.result) for c in read_story(traces[n]).calls],
                )
                for n, line in lines.items()
            }
        engine.dispose()
        return found

    def test_the_parts_together_are_the_whole_run(self) -> None:
        status, _ = self.ferox("run", self.root, "--trials", 3)
        self.assertEqual(status, 1)
        parts = [self.part(f"{n}/3") for n in (1, 2, 3)]
        sizes = [len(part.read_text().splitlines()) - 1 for part in parts]
        self.assertEqual(sizes, [4, 4, 4])
        status, said = self.ferox("gather", self.root, *parts)
        self.assertEqual(status, 1)
        self.assertIn("run 2: 12 trials gathered from 3 files", said)
        self.assertEqual(self.trials(2), self.trials(1))
        engine = open_database(self.root)
        with read_session(engine) as session:
            whole, gathered = (get_run(session, run) for run in (1, 2))
            self.assertEqual((gathered.origin, gathered.title), ("gathered", whole.title))
        engine.dispose()
        # It is held against the whole one as any run is: nothing broke.
        self.assertEqual(self.ferox("gather", self.root, *parts, "--against", 1)[0], 0)
        status, said = self.ferox("gather", self.root, *parts, "--fail-under", "pass=0.51")
        self.assertEqual(status, 1)
        self.assertIn("pass is 0.5 in 12 trials, 0.01 too low", said)

    def test_a_part_that_is_missing_or_there_twice_is_named(self) -> None:
        one, two = self.part("1/3"), self.part("2/3")
        status, said = self.ferox("gather", self.root, one, two)
        self.assertEqual(status, 2)
        self.assertIn("4 trials missing: there is no file of 3/3; give it, or --partial", said)
        status, said = self.ferox("gather", self.root, one, two, "--partial")
        self.assertEqual(status, 1)
        self.assertIn("8 trials gathered from 2 files; 4 missing", said)
        status, said = self.ferox("gather", self.root, one, two, one, "--partial")
        self.assertEqual(status, 2)
        self.assertRegex(said, r"small/\w+ · \w+ · trial \d is in \S+ and in \S+")
        head, *rest = one.read_text().splitlines()
        one.write_text("\n".join([head, *rest[1:]]))
        self.assertIn("1 trial of", self.ferox("gather", self.root, one, two)[1])

    def test_parts_of_different_runs_are_refused_with_what_differs(self) -> None:
        one = self.part("1/2")
        self.change("tasks/small.yaml", "03:30", "03:31")
        status, said = self.ferox("gather", self.root, one, self.part("2/2"))
        self.assertEqual(status, 2)
        self.assertIn("suites differ", said)

    def test_files_that_are_no_parts_are_refused_by_their_line(self) -> None:
        one = self.part("1/1")
        head, first, *_ = one.read_text().splitlines()
        stranger = json.dumps({**json.loads(first), "task": "nowhere"})
        header = json.loads(head)
        bent = json.dumps({**header, "snapshot": {**header["snapshot"], "agents": 3}})
        for text, why in (
            ("", "it is empty"),
            ("{broken", ":1: no JSON"),
            (
                '{"ferox_trace": 1}',
                ":1: no run's file, as `ferox run --save` writes it: /ferox_run",
            ),
            (f"{head}\n{{}}", ":2: /ferox_trace"),
            (f"{head}\n\n[]", ":3: /"),
            (f"{head}\n{stranger}", "small/nowhere · "),
            (f"{bent}\n{first}", ":1: /agents"),
        ):
            with self.subTest(text[:40]):
                path = self.write("part.jsonl", text)
                status, said = self.ferox("gather", self.root, path, "--partial")
                self.assertEqual(status, 2, said)
                self.assertIn(why, said)
        self.assertIn("No such file", self.ferox("gather", self.root, self.root / "no.jsonl")[1])

    def test_a_part_holds_no_line_and_a_run_that_ends_once_decided_has_none(self) -> None:
        words = ("run", self.root, "--shard", "1/2")
        self.assertIn("give these rules", self.ferox(*words, "--fail-under", "pass=1")[1])
        self.write("plans/p.yaml", """
            ferox: 1
            plan: p
            tasks: [small/high]
            agents: [plain]
            vary: {model: [steady, hasty]}
            until: {looks: [2, 3]}
        """)  # fmt: skip
        status, said = self.ferox(*words, "--plan", "p")
        self.assertEqual(status, 2)
        self.assertIn("ends once it is decided", said)
        self.assertEqual(self.ferox(*words, "--plan", "p", "--trials", 2)[0], 0)

    def test_a_part_is_written_as_one_of_so_many(self) -> None:
        self.assertEqual(Shard.parse("2/5"), Shard(2, 5))
        for wrong in ("0/2", "3/2", "1", "a/b", "1/0", "-1/2", "1/2/3", "1/1001"):
            with self.subTest(wrong), self.assertRaisesRegex(RunError, "write PART/PARTS"):
                Shard.parse(wrong)
        status, said = self.ferox("run", self.root, "--trials", 1, "--shard", "5/5")
        self.assertEqual(status, 2)
        self.assertIn("there are fewer trials than parts", said)
