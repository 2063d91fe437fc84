"""One server out of reach, or one faulty file, never blocks what does not need it."""

from __future__ import annotations

import unittest
from typing import Any

from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.remarks import trial_remarks
from ferox.core.script import needed_servers
from ferox.formats.suite import Task
from ferox.workspace import WorkspaceError
from ferox.workspace.load import load_needed
from tests.serving import AppCase
from tests.waiting import until
from tests.workspaces import WorkspaceCase

FAR = "ferox: 1\nserver: far\nlive: {url: 'http://127.0.0.1:9/mcp'}\n"
BROKEN = "ferox: 1\nserver: broken\nlive: [\n"


class NeededServers(unittest.TestCase):
    def needed(self, **expect: Any) -> set[str] | None:
        return needed_servers(Task.model_validate({"task": "t", "say": "x", "expect": expect}))

    def test_by_hand(self) -> None:
        call = {"tool": "tides/high_water"}
        self.assertEqual(self.needed(calls=[call]), {"tides"})
        state = [{"server": "harbour", "path": "$.x", "count": 1}]
        self.assertEqual(self.needed(calls=[call], state=state), {"tides", "harbour"})
        either = [{"calls": [call]}, {"calls": [{"tool": "pilots/roster"}]}]
        self.assertEqual(self.needed(either=either), {"tides", "pilots"})
        recovers = {"recovers": {"by": ["harbour/find_vessel"]}}
        self.assertEqual(self.needed(calls=[call], failures=recovers), {"tides", "harbour"})

    def test_what_forbids_or_names_nothing_needs_all(self) -> None:
        call = {"tool": "tides/high_water"}
        for expect in (
            {},
            {"calls": []},
            {"calls": [call], "never": ["harbour/release_berth"]},
            {"calls": [call], "others": "forbidden"},
            {"either": [{"calls": [call]}, {"calls": []}]},
        ):
            with self.subTest(expect):
                self.assertIsNone(self.needed(**expect))


class FaultyFiles(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/broken.yaml", BROKEN)
        self.write("agents/odd.yaml", "ferox: 1\nagent: odd\nlink: sideways\n")

    def test_what_does_not_need_them_loads_and_they_are_told(self) -> None:
        needed = load_needed(self.root, agents=["plain"], suites=["small"])
        self.assertEqual(
            {p.file for p in needed.left_out}, {"servers/broken.yaml", "agents/odd.yaml"}
        )
        self.assertEqual(needed.workspace.unloaded_servers, {"broken": "servers/broken.yaml"})
        self.write("servers/tides.yaml", BROKEN.replace("broken", "tides"))
        with self.assertRaises(WorkspaceError) as refused:
            load_needed(self.root, agents=["plain"], suites=["small"])
        self.assertEqual({p.file for p in refused.exception.problems}, {"servers/tides.yaml"})

    def test_an_agent_that_is_offered_a_faulty_server_goes_without_it(self) -> None:
        self.write(
            "agents/plain.yaml",
            "ferox: 1\nagent: plain\nlink: plain\nmodel: steady\n"
            "offer: {tides: all, broken: all}\n",
        )
        load_needed(self.root, agents=["plain"], suites=["small"])
        self.change("agents/plain.yaml", "broken: all", "nowhere: all")
        with self.assertRaisesRegex(WorkspaceError, "no such server"):
            load_needed(self.root, agents=["plain"], suites=["small"])

    def test_a_faulty_agent_or_stand_in_is_needed_where_it_is_named(self) -> None:
        with self.assertRaises(WorkspaceError) as refused:
            load_needed(self.root, agents=["odd"], suites=[])
        self.assertEqual({p.file for p in refused.exception.problems}, {"agents/odd.yaml"})
        self.write("stand_ins/desk.yaml", "ferox: 1\n")
        with self.assertRaises(WorkspaceError) as refused:
            load_needed(self.root, agents=["plain"], suites=[])
        self.assertEqual({p.file for p in refused.exception.problems}, {"stand_ins/desk.yaml"})

    def test_a_run_leaves_them_out_and_says_so(self) -> None:
        done = CliRunner().invoke(main, ["run", str(self.root), "--trials", "1"])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertIn("left out: agents/odd.yaml:3", done.output)
        self.assertIn("left out: servers/broken.yaml", done.output)
        self.assertIn("1/1", done.output)
        self.write("servers/far.yaml", FAR)
        self.change("tasks/small.yaml", "{tides: mock}", "{tides: mock, far: live}")
        far = CliRunner().invoke(main, ["run", str(self.root), "--trials", "1"])
        self.assertEqual(far.exit_code, 0, far.output)
        self.assertIn("1 trial went without far, out of reach", far.output)


class OutOfReach(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/far.yaml", FAR)
        self.change("tasks/small.yaml", "{tides: mock}", "{tides: mock, far: live}")

    def run_it(self) -> tuple[Any, Any]:
        run = self.ask("/api/runs", {"suites": ["small"], "agents": ["plain"], "repeats": 1}).body

        def over() -> Any:
            board = self.ask(f"/api/runs/{run['id']}/board").body
            return board if board["run"]["state"] == "done" else None

        board = until(over)
        return board, self.ask("/api/trials/1").body

    def test_a_task_that_does_not_name_it_goes_on_and_says_so(self) -> None:
        board, trial = self.run_it()
        self.assertEqual(trial["result"]["verdict"], "pass")
        self.assertIn("far", trial["trace"]["without"])
        self.assertEqual(trial_remarks(trial["trace"])[0].kind, "went_without")
        self.assertIn("1 trial went without far", board["run"]["message"])

    def test_a_task_that_forbids_needs_it(self) -> None:
        self.change("tasks/small.yaml", "expect:", "expect:\n      never: [far/anything]")
        board, trial = self.run_it()
        self.assertEqual(trial["result"]["verdict"], "error")
        self.assertIsNone(board["run"]["message"])

    def test_a_conversation_goes_on_and_says_so(self) -> None:
        self.write("servers/broken.yaml", BROKEN)
        begun = self.ask("/api/agents/plain/conversations", {}).body

        def waits() -> Any:
            now = self.ask(f"/api/conversations/{begun['id']}").body
            return now if (now["waits"] or {}).get("kind") == "words" else None

        now = until(waits)
        self.assertEqual(set(now["without"]), {"far", "broken"})
        self.assertIn("servers/broken.yaml:", now["without"]["broken"])
        said = self.ask(f"/api/conversations/{begun['id']}/say", {"text": "When is high water?"})
        self.assertEqual(said.status, 200)
        self.ask(f"/api/conversations/{begun['id']}/end", {})
