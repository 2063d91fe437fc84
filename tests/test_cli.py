"""The command line: what it prints, and its exit status."""

from __future__ import annotations

import json
import os
import re
import socket
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

from click.shell_completion import ShellComplete
from click.testing import CliRunner

import ferox
from ferox.cli.main import COMMANDS, main
from tests.workers import work_in_threads
from tests.workspaces import WorkspaceCase

DATA = Path(__file__).parent / "data"


class Commands(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        work_in_threads(self)

    def ferox(self, *arguments: object) -> subprocess.CompletedProcess[str]:
        """A command in this process, as the terminal would see it."""
        words = [str(argument) for argument in arguments]
        done = CliRunner().invoke(main, words, catch_exceptions=False)
        return subprocess.CompletedProcess(words, done.exit_code, done.stdout, done.stderr)

    def test_without_words_it_says_what_is_here_and_what_to_do_next(self) -> None:
        here = Path.cwd()
        self.addCleanup(os.chdir, here)
        os.chdir(self.root)
        found = self.ferox()
        self.assertEqual(found.returncode, 0)
        self.assertIn("Skerrow test desk: 1 server, 1 agent, 1 suite with 1 task", found.stdout)
        self.assertIn("ferox try plain", found.stdout)
        self.assertNotIn("Run 1", found.stdout)
        self.ferox("run", ".", "--trials", 1)
        self.write("servers/odd.yaml", "ferox: 1\n")
        found = self.ferox()
        self.assertIn("Run 1 (small): 1 of 1 trial passed", found.stdout)
        self.assertIn("servers/odd.yaml:1:1: ", found.stdout)
        self.assertIn("ferox verify", found.stdout)
        os.chdir(self.root / "servers")
        self.assertIn("ferox new my-desk", self.ferox().stdout)

    def test_a_shell_completes_commands_and_names(self) -> None:
        self.write("agents/night.yaml", "ferox: 1\nagent: night-desk\nlink: plain\nmodel: steady\n")
        for shell in ("bash", "zsh", "fish"):
            self.assertIn("_FEROX_COMPLETE", self.ferox("completion", shell).stdout)
        for words, wanted in (
            (["sta"], {"stand-in"}),
            (["run", str(self.root), "--agent", ""], {"night-desk", "plain"}),
            (["run", str(self.root), "--agent", "ni"], {"night-desk"}),
            (["run", str(self.root), "--suite", ""], {"small"}),
        ):
            with self.subTest(words):
                found = ShellComplete(main, {}, "ferox", "_FEROX_COMPLETE").get_completions(
                    words[:-1], words[-1]
                )
                self.assertEqual({item.value for item in found}, wanted)

    def test_verify(self) -> None:
        good = self.ferox("verify", self.root)
        self.assertEqual(good.returncode, 0)
        self.assertIn("1 agent, 1 server, 1 suite with 1 task: all well", good.stdout)
        self.change("tasks/small.yaml", "tides/high_water", "tides/hi_water")
        bad = self.ferox("verify", self.root)
        self.assertEqual(bad.returncode, 2)
        self.assertRegex(bad.stderr, r"tasks/small.yaml:8:26: `tides/hi_water`: no such tool")

    def test_run_prints_the_board_and_writes_results(self) -> None:
        out = self.root / "results.json"
        good = self.ferox("run", self.root, "--trials", 2, "--json", out)
        self.assertEqual(good.returncode, 0, good.stderr)
        self.assertIn("high", good.stdout)
        self.assertIn("2/2", good.stdout)
        results = json.loads(out.read_text())
        self.assertEqual([r["verdict"] for r in results], ["pass", "pass"])
        about = {k: results[1][k] for k in ("run", "trial_id", "model", "arm", "version")}
        wanted = {"run": 1, "model": "steady", "arm": "plain", "version": ferox.__version__}
        self.assertEqual(about, {**wanted, "trial_id": about["trial_id"]})

    def test_run_leaves_with_one_if_checks_failed(self) -> None:
        self.change("tasks/small.yaml", 'mentions: "14:31"', 'mentions: "15:31"')
        bad = self.ferox("run", self.root, "--trials", 1)
        self.assertEqual(bad.returncode, 1)
        self.assertIn("1 trial failed", bad.stderr)
        self.assertIn(
            'small/high · plain: 0 of 1 passed. The answer does not mention "15:31". [answer.0: '
            'the answer does not mention "15:31"] trial 1, /trial/1',
            bad.stdout,
        )

    def test_a_stored_trial_is_digested_exported_and_scored_again(self) -> None:
        self.assertIn("has no results yet", self.ferox("digest", self.root, 1, 1).stderr)
        self.ferox("run", self.root, "--trials", 2)
        outcome = self.ferox("digest", self.root, 1, 2)
        self.assertEqual(outcome.returncode, 0, outcome.stderr)
        self.assertIn("small/high · plain · trial", outcome.stdout)
        for given, words in (
            ((1, 9), "there is no trial 9"),
            ((7, 1), "there is no run 7; the newest is 1"),
        ):
            refused = self.ferox("digest", self.root, *given)
            self.assertEqual(refused.returncode, 2)
            self.assertIn(words, refused.stderr)
        out = self.root / "traces.jsonl"
        done = self.ferox("export", self.root, 1, "--format", "traces", "-o", out)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertEqual(len(out.read_text().splitlines()), 2)
        suite = self.root / "tasks/small.yaml"
        scored = self.ferox("score", "--tasks", suite, out)
        self.assertEqual([r["verdict"] for r in json.loads(scored.stdout)], ["pass", "pass"])
        one = self.ferox("export", self.root, 1, "--trial", 2)
        self.assertEqual(json.loads(one.stdout)["task"], "high")
        out.write_text(out.read_text() + '{"ferox_trace": 2}\n')
        broken = self.ferox("score", "--tasks", suite, out)
        self.assertEqual(broken.returncode, 2)
        self.assertIn("traces.jsonl:3: /", broken.stderr)

    def test_run_leaves_with_two_if_it_is_given_nonsense(self) -> None:
        bad = self.ferox("run", self.root, "--agent", "plian")
        self.assertEqual(bad.returncode, 2)
        self.assertIn("`plian`: no such agent; there is plain", bad.stderr)
        bad = self.ferox("run", self.root, "--task", "hihg")
        self.assertEqual(bad.returncode, 2)
        self.assertIn("`hihg`: no such task in small; did you mean `high`?", bad.stderr)
        bad = self.ferox("mend", self.root, "hihg", "plain")
        self.assertEqual(bad.returncode, 2)
        self.assertIn("`hihg`: no such task; did you mean `high`?", bad.stderr)
        self.assertEqual(self.ferox("run", self.root, "--trials", 0).returncode, 2)
        self.assertEqual(self.ferox("resume", self.root, 7).returncode, 2)

    def test_again_runs_only_what_failed_as_the_files_are_now(self) -> None:
        path = self.root / "tasks/small.yaml"
        more = "  - task: calm\n    say: When is high water today?\n"
        path.write_text(path.read_text() + more + '    expect: {answer: [{mentions: "19:19"}]}\n')
        self.assertEqual(self.ferox("run", self.root, "--trials", 2).returncode, 1)
        self.change("tasks/small.yaml", "19:19", "14:31")
        done = self.ferox("again", self.root, 1)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("Run 2", done.stdout)
        self.assertIn("calm", done.stdout)
        self.assertNotIn("high ", done.stdout)
        for run, words in ((2, "nothing failed in run 2"), (7, "there is no run 7")):
            refused = self.ferox("again", self.root, run)
            self.assertEqual(refused.returncode, 2)
            self.assertIn(words, refused.stderr)

    def test_resume_does_what_is_missing_and_no_more(self) -> None:
        self.ferox("run", self.root, "--trials", 3)
        with sqlite3.connect(self.root / ".ferox/results.sqlite") as connection:
            # One that no other is packed against: such a one never stops after it was done.
            later = 'SELECT max(trial_id) FROM packed_trace WHERE "like" IS NOT NULL'
            connection.execute(f"UPDATE trial SET state = 'stopped' WHERE id = ({later})")
            connection.execute("UPDATE run SET state = 'stopped'")
        done = self.ferox("resume", self.root, 1)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertIn("1 trial of run 1 still to do", done.stdout)
        self.assertIn("3/3", done.stdout)
        again = self.ferox("resume", self.root, 1)
        self.assertEqual((again.returncode, again.stdout), (2, ""))
        self.assertIn("nothing is missing from run 1", again.stderr)

    def test_help_tells_of_every_command(self) -> None:
        overview = self.ferox("--help").stdout
        for name, (_, line) in COMMANDS.items():
            self.assertRegex(overview, rf"(?m)^  {name} +{re.escape(line)}$")
            self.assertIn(f"Usage: main {name} ", self.ferox(name, "--help").stdout)
        self.assertIn("No such command 'reticulate'", self.ferox("reticulate").stderr)

    def test_naming_the_commands_imports_none_of_what_they_need(self) -> None:
        code = "import sys, ferox.cli.main; print([*sys.modules])"
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
        for heavy in ("pydantic", "sqlalchemy", "numpy", "rich", "mcp", "flask"):
            self.assertNotIn(f"'{heavy}'", done.stdout)

    def test_score_needs_no_workspace(self) -> None:
        suite, trace = DATA / "window-then-berth.yaml", DATA / "window-then-berth.trace.json"
        good = self.ferox("score", "--tasks", suite, trace, trace)
        self.assertEqual(good.returncode, 0, good.stderr)
        results = json.loads(good.stdout)
        self.assertEqual([r["verdict"] for r in results], ["pass", "pass"])
        self.assertEqual(results[0], results[1])

    def test_score_tells_what_is_wrong_with_a_trace(self) -> None:
        suite = DATA / "window-then-berth.yaml"
        text = json.loads((DATA / "window-then-berth.trace.json").read_text())
        file = self.root / "t.json"
        file.write_text(json.dumps({**text, "task": "other"}))
        bad = self.ferox("score", "--tasks", suite, file)
        self.assertEqual(bad.returncode, 2)
        self.assertIn(
            "`other`: no such task in the suite; there is `window-then-berth`", bad.stderr
        )
        text["events"][0]["t"] = "soon"
        file.write_text(json.dumps(text))
        self.assertIn("/events/0/t", self.ferox("score", "--tasks", suite, file).stderr)
        file.write_text("{")
        self.assertEqual(self.ferox("score", "--tasks", suite, file).returncode, 2)

    def test_score_leaves_with_three_for_an_error_and_one_for_a_failure(self) -> None:
        suite = DATA / "window-then-berth.yaml"
        text = json.loads((DATA / "window-then-berth.trace.json").read_text())
        file = self.root / "t.json"
        text["events"][-1].update(why="could_not_run", reason="the model is gone")
        file.write_text(json.dumps(text))
        self.assertEqual(self.ferox("score", "--tasks", suite, file).returncode, 3)
        text["events"][-1].update(why="done")
        text["events"][-2]["text"] = "Done."
        file.write_text(json.dumps(text))
        self.assertEqual(self.ferox("score", "--tasks", suite, file).returncode, 1)

    def test_serve_says_when_it_cannot(self) -> None:
        self.assertEqual(self.ferox("serve", self.root / "agents").returncode, 2)
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            bad = self.ferox("serve", self.root, "--port", port)
        self.assertEqual(bad.returncode, 3)
        self.assertIn("choose one with --port", bad.stderr)

    def test_a_second_server_on_the_same_workspace_names_the_first(self) -> None:
        command = [sys.executable, "-m", "ferox", "serve", str(self.root), "--port", "8741"]
        with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as first:
            self.addCleanup(first.kill)
            assert first.stdout is not None
            self.assertIn("8741", first.stdout.readline())
            time.sleep(0.2)
            second = self.ferox("serve", self.root, "--port", "8742")
            first.terminate()
        self.assertEqual(second.returncode, 3)
        self.assertIn("served already at http://127.0.0.1:8741", second.stderr)

    def test_a_file_that_stands_where_results_should(self) -> None:
        (self.root / ".ferox").write_text("mine")
        bad = self.ferox("run", self.root)
        self.assertEqual(bad.returncode, 3)
        self.assertIn("cannot be made", bad.stderr)
        self.assertEqual((self.root / ".ferox").read_text(), "mine")
